import { dayFromDate } from '../units/day.ts';
import { barredMonths, latestDay, monthOfPlan } from './terms.ts';

describe('by when something has to be done', () => {
  const winter = dayFromDate(2026, 12, 1)!;
  const cooling = { dueDay: dayFromDate(2027, 9, 20)!, isCooling: true, isInspected: false };
  const kept = { coolingBeforeSummer: true, events: [] };

  test('cooling that is due this year comes before the heat, and never in it', () => {
    expect(latestDay(cooling, kept, winter)).toBe(dayFromDate(2027, 5, 31));
    expect(latestDay({ ...cooling, isCooling: false }, kept, winter)).toBe(cooling.dueDay);
    expect(latestDay(cooling, { ...kept, coolingBeforeSummer: false }, winter)).toBe(cooling.dueDay);
    expect(latestDay({ ...cooling, dueDay: dayFromDate(2027, 4, 3)! }, kept, winter)).toBe(dayFromDate(2027, 4, 3));
    expect(latestDay({ ...cooling, dueDay: dayFromDate(2028, 2, 3)! }, kept, winter)).toBe(dayFromDate(2028, 2, 3));
    const hot = barredMonths(cooling, { coolingBeforeSummer: true, months: 12 }, { nowDay: winter, deadline: null });
    // December is month 0: June, July, August.
    expect(hot.flatMap((is, month) => (is ? [month] : []))).toEqual([6, 7, 8]);
  });

  test('what cannot wait for a cooler month is done in the heat', () => {
    const july = dayFromDate(2027, 7, 1)!;
    expect(
      barredMonths(cooling, { coolingBeforeSummer: true, months: 12 }, { nowDay: july, deadline: 1 }).some(Boolean),
    ).toBe(false);
  });

  test('what falls due by the end of a trip is done before it; before an inspection only what it would find', () => {
    const day = winter + 60;
    const due = { dueDay: winter + 70, isCooling: false, isInspected: false };
    const trip = { day, dueBy: day + 15, onlyInspected: false };
    expect(latestDay(due, { coolingBeforeSummer: true, events: [trip] }, winter)).toBe(day - 1);
    expect(latestDay({ ...due, dueDay: winter + 76 }, { ...kept, events: [trip] }, winter)).toBe(winter + 76);
    const inspection = { ...trip, onlyInspected: true };
    expect(latestDay(due, { ...kept, events: [inspection] }, winter)).toBe(due.dueDay);
    expect(latestDay({ ...due, isInspected: true }, { ...kept, events: [inspection] }, winter)).toBe(day - 1);
    expect(latestDay({ ...due, dueDay: null }, { ...kept, events: [trip] }, winter)).toBeNull();
  });

  test('at the edges: the first day of the heat, the last that still counts, the day of an event itself', () => {
    const june = dayFromDate(2027, 6, 1)!;
    const before = june - 1;
    const due = (dueDay: number): number | null => latestDay({ ...cooling, dueDay }, kept, winter);
    expect([due(june - 1), due(june), due(june + 182), due(june + 183)]).toEqual([before, before, before, june + 183]);
    // On the first of June the heat has begun: the next is that of next year.
    expect(latestDay({ ...cooling, dueDay: june + 30 }, kept, june)).toBe(june + 30);
    expect(latestDay({ ...cooling, dueDay: june + 30 }, kept, june - 1)).toBe(before);
    const event = { day: winter + 40, dueBy: winter + 50, onlyInspected: false };
    const plain = { isCooling: false, isInspected: false };
    expect(latestDay({ ...plain, dueDay: winter + 50 }, { ...kept, events: [event] }, winter)).toBe(winter + 39);
    expect(latestDay({ ...plain, dueDay: winter + 51 }, { ...kept, events: [event] }, winter)).toBe(winter + 51);
    const none = barredMonths(
      { isCooling: false },
      { coolingBeforeSummer: true, months: 12 },
      { nowDay: winter, deadline: null },
    );
    expect(none).toEqual(new Array(12).fill(false));
    const off = barredMonths(cooling, { coolingBeforeSummer: false, months: 12 }, { nowDay: winter, deadline: null });
    expect(off.some(Boolean)).toBe(false);
  });

  test('a month of the planner is a twelfth of a year', () => {
    expect(monthOfPlan(winter, winter + 31)).toBe(1);
    expect(monthOfPlan(winter, winter - 1)).toBe(-1);
  });
});
