import { shopClock } from './clock.ts';

test('the day is the one where the workshop is', () => {
  const clock = shopClock('2026-03-28T23:30:00Z');
  expect(clock.todayIso()).toBe('2026-03-28');
  clock.setZone('Europe/Athens');
  expect(clock.todayIso()).toBe('2026-03-29');
  clock.setZone('America/Anchorage');
  expect(clock.todayIso()).toBe('2026-03-28');
  clock.setZone('Pacific/Kiritimati');
  expect(clock.today() - shopClock('2026-03-28').today()).toBe(1);
});

test('its clock on the wall follows summer time', () => {
  const clock = shopClock('2026-03-29');
  clock.setZone('Europe/Lisbon');
  expect(clock.onTheWall(new Date('2026-03-29T00:59:00Z'))).toEqual({ date: '2026-03-29', time: '00:59' });
  expect(clock.onTheWall(new Date('2026-03-29T01:01:00Z'))).toEqual({ date: '2026-03-29', time: '02:01' });
  expect(clock.onTheWall(new Date('2026-03-29T23:05:00Z'))).toEqual({ date: '2026-03-30', time: '00:05' });
});

test('an instant that is none is refused', () => {
  expect(() => shopClock('soon')).toThrow(/ISO date/);
});
