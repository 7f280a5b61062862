import { foundWorn, PLAN_MONTH_DAYS, lookCosts, renewalCosts, taskCosts } from './item-costs.ts';
import { bestAge } from '../schools/ageReplacement.ts';
import { deferralCosts } from './deferral.ts';
import { wears, forecastOf, life, span } from './testing.ts';

describe('what a renewal costs by month', () => {
  test('follows the life itself, as the closed form has it', () => {
    const item = wears('belt', life);
    const costs = renewalCosts(
      forecastOf(item),
      item,
      { parts: 120, labour: 150, failure: 2400, canLeave: false },
      span,
    );
    const planned = 150 + 120;
    const exact = deferralCosts({
      life: { shape: life.shape, scale: life.scale },
      share: 1,
      ageNow: life.age,
      ratePerMonth: PLAN_MONTH_DAYS,
      months: 36,
      plannedAlone: planned,
      parts: 120,
      failure: planned + 2400,
      lateLabour: 150,
    });
    const least = Math.min(...exact.byMonth);
    costs.byMonth.forEach((cost, month) => expect(Math.abs(cost - (exact.byMonth[month]! - least))).toBeLessThan(6));
    // Its best month is that in which it comes to its best age.
    const { age } = bestAge({ shape: life.shape, scale: life.scale }, 1, { planned, failure: planned + 2400 });
    const best = costs.byMonth.indexOf(Math.min(...costs.byMonth));
    expect(Math.abs(best - Math.max(0, (age - life.age) / PLAN_MONTH_DAYS))).toBeLessThan(1.5);
  });

  test('is told in full: what is told less its least is the cost', () => {
    const item = wears('belt', life);
    const { byMonth, later, told } = renewalCosts(
      forecastOf(item),
      item,
      { parts: 120, labour: 150, failure: 2400, canLeave: false },
      span,
    );
    const sums = told.map(({ failures, parts, wear }) => failures + parts + wear);
    const least = Math.min(...sums);
    [...byMonth, later].forEach((cost, month) => expect(cost).toBeCloseTo(sums[month]! - least, 9));
  });

  test('may be left until it fails in five years, with no renewal at the end, where nothing grave comes of it', () => {
    // Dear to renew, and hardly dearer once it has failed.
    const item = wears('coil', { scale: 6000, shape: 3, age: 1000 });
    const money = { parts: 900, labour: 100, failure: 50 };
    const [held, free] = [false, true].map((canLeave) =>
      renewalCosts(forecastOf(item), item, { ...money, canLeave }, span),
    );
    const failing = (age: number): number => 1 - Math.exp(-((age / 6000) ** 3));
    const failed = (failing(1000 + 5 * 365.25) - failing(1000)) / (1 - failing(1000));
    expect(free!.told.at(-1)!.failures).toBeCloseTo(1050 * failed, 0);
    expect(free!.told.at(-1)).toMatchObject({ parts: 0, wear: 0 });
    expect(held!.told.at(-1)!.parts).toBeGreaterThan(500);
    expect(free!.later).toBe(0);
  });

  test('of a vehicle that is given away counts only what fails until then', () => {
    const item = wears('belt', life);
    const { byMonth, later, told } = renewalCosts(
      forecastOf(item),
      item,
      { parts: 120, labour: 150, failure: 2400, canLeave: false },
      { months: 36, keptMonths: 8 },
    );
    // By hand from the Weibull: chance of failing within eight months, and what it then costs.
    const hazard = (days: number): number => (days / life.scale) ** life.shape;
    const days = 8 * PLAN_MONTH_DAYS;
    const fails = -Math.expm1(hazard(life.age) - hazard(life.age + days));
    expect(told[36]!.failures).toBeCloseTo(2670 * fails, 0);
    expect(told[0]!.failures + told[0]!.parts).toBeCloseTo(120 + 2670 * -Math.expm1(-hazard(days)), 0);
    expect(later).toBeGreaterThanOrEqual(0);
    expect(byMonth[7]).toBeLessThan(Infinity);
    expect(byMonth[8]).toBe(Infinity);
  });
});

test('a look saves what it sees coming: detection times the chance within its warning time times the failure', () => {
  const item = wears('seal', life);
  const money = { detection: 0.8, warningDays: 180, failure: 900, renewal: 240, isAlone: false };
  const { byMonth, later } = lookCosts(forecastOf(item), item, money, span);
  const hazard = (of: number): number => (of / life.scale) ** life.shape;
  const fails = (days: number): number => -Math.expm1(hazard(life.age) - hazard(life.age + days));
  expect(later).toBe(0);
  expect(byMonth[0]).toBeCloseTo(-0.8 * 900 * fails(180), 1);
  const ten = 10 * PLAN_MONTH_DAYS;
  expect(byMonth[10]).toBeCloseTo(-0.8 * 900 * (fails(ten + 180) - fails(ten)), 1);
  // What it finds is what it saves that on.
  expect(foundWorn(forecastOf(item), item, money, ten) * -900).toBeCloseTo(byMonth[10]!, 9);
  // Nothing is found for an owner who has given it away.
  const kept = lookCosts(forecastOf(item), item, money, { months: 36, keptMonths: 3 });
  expect(kept.byMonth[2]).toBeCloseTo(-0.8 * 900 * (fails(3 * PLAN_MONTH_DAYS) - fails(2 * PLAN_MONTH_DAYS)), 1);
  expect(kept.byMonth[3]).toBe(Infinity);
});

test('a part that never fails is never worth renewing; what is left beyond the months is at its best there', () => {
  const never = wears('never', { scale: 1e9, shape: 3, age: 10 });
  const { byMonth, later, told } = renewalCosts(
    forecastOf(never),
    never,
    { parts: 100, labour: 50, failure: 10, canLeave: false },
    span,
  );
  expect(told[0]).toMatchObject({ failures: 0, parts: 100, wear: 0 });
  expect(byMonth.every((cost) => Math.abs(cost) < 1e-6)).toBe(true);
  expect(later).toBeCloseTo(50, 6);
});

test('what fails again before it is given away counts as well', () => {
  const old = wears('belt', { scale: 2000, shape: 3, age: 1500 });
  const { told } = renewalCosts(
    forecastOf(old),
    old,
    { parts: 120, labour: 150, failure: 2400, canLeave: false },
    { months: 36, keptMonths: 30 },
  );
  const hazard = (of: number): number => (of / 2000) ** 3;
  const failed = -Math.expm1(hazard(1500) - hazard(1500 + 10 * PLAN_MONTH_DAYS));
  const again = -Math.expm1(-hazard(20 * PLAN_MONTH_DAYS));
  expect(told[10]!.failures / (2670 * (failed + (1 - failed) * again))).toBeCloseTo(1, 2);
  expect(told[10]!.parts).toBeCloseTo(120 * (1 - failed), 0);
});

test('a look that stands for itself counts all that is expected to fail until the end', () => {
  const item = wears('seal', life);
  const money = { detection: 0.8, warningDays: 180, failure: 900, renewal: 240, isAlone: true };
  const hazard = (of: number): number => (of / life.scale) ** life.shape;
  const fails = (days: number): number => -Math.expm1(hazard(life.age) - hazard(life.age + days));
  const end = 36 * PLAN_MONTH_DAYS;
  expect(lookCosts(forecastOf(item), item, money, span).told[36]!.failures).toBeCloseTo((900 + 240) * fails(end), 0);
  const kept = lookCosts(forecastOf(item), item, money, { months: 36, keptMonths: 6 });
  expect(kept.told[36]!.failures).toBeCloseTo((900 + 240) * fails(6 * PLAN_MONTH_DAYS), 0);
});

test('a task that is left until the end costs what its neglect wears until then, and nothing where it is due later', () => {
  const item = wears('pump', life);
  const task = { dueMonth: 6, everyMonths: 12, labour: 60, protects: [{ forecast: item, factor: 1.5, failure: 1000 }] };
  const hazard = (of: number): number => (of / life.scale) ** life.shape;
  const fails = (month: number): number => -Math.expm1(hazard(life.age) - hazard(life.age + month * PLAN_MONTH_DAYS));
  const whole = taskCosts(forecastOf(item), task, span);
  expect(whole.later).toBeCloseTo(500 * (fails(36) - fails(6)), 0);
  expect(whole.byMonth[3]).toBeCloseTo(60 * (3 / 12), 9);
  const kept = taskCosts(forecastOf(item), task, { months: 36, keptMonths: 10 });
  expect(kept.later).toBeCloseTo(500 * (fails(10) - fails(6)), 0);
  expect(kept.byMonth[9]).toBeLessThan(Infinity);
  expect(kept.byMonth[10]).toBe(Infinity);
  expect(taskCosts(forecastOf(item), task, { months: 36, keptMonths: 6 }).later).toBe(0);
  // Overdue already, neglect counts from now on.
  const overdue = taskCosts(forecastOf(item), { ...task, dueMonth: -4 }, span);
  expect(overdue.byMonth[0]).toBe(0);
  expect(overdue.byMonth[5]).toBeCloseTo(500 * fails(5), 0);
});

test('a task done early gives away its interval, done late it wears what it protects', () => {
  const item = wears('pump', life);
  const { byMonth } = taskCosts(
    forecastOf(item),
    { dueMonth: 6, everyMonths: 12, labour: 60, protects: [{ forecast: item, factor: 1.5, failure: 1000 }] },
    span,
  );
  expect(byMonth[0]).toBeCloseTo(30, 9);
  expect(byMonth[6]).toBe(0);
  const hazard = (of: number): number => (of / life.scale) ** life.shape;
  const fails = (month: number): number => -Math.expm1(hazard(life.age) - hazard(life.age + month * PLAN_MONTH_DAYS));
  expect(byMonth[12]).toBeCloseTo(0.5 * 1000 * (fails(12) - fails(6)), 0);
});
