import { labourCost } from './labour.ts';

test('ninety minutes at 96 an hour are 144; nothing costs nothing', () => {
  expect(labourCost(90, 9600)).toBe(14_400);
  expect(labourCost(0, 9600)).toBe(0);
});
