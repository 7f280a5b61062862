import { jobMinutes } from './job.ts';
import { labourCost } from './labour.ts';

test('ninety minutes at 96 an hour are 144; nothing costs nothing', () => {
  expect(labourCost(90, 9600)).toBe(14_400);
  expect(labourCost(0, 9600)).toBe(0);
});

test('a renewal takes its minutes, a look its own, and ten where nobody told them', () => {
  expect(jobMinutes('renew', { renewMinutes: 170, look: { minutes: 20 } })).toBe(170);
  expect(jobMinutes('look', { renewMinutes: 170, look: { minutes: 20 } })).toBe(20);
  expect(jobMinutes('look', { renewMinutes: 170, look: null })).toBe(10);
});
