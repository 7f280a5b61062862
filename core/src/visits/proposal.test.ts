import fc from 'fast-check';
import { dayFromDate } from '../units/day.ts';
import { keepOrLetGo } from './keeping.ts';
import { PLAN_MONTH_DAYS, lookCosts, renewalCosts, taskCosts } from './item-costs.ts';
import { bestAge } from '../schools/ageReplacement.ts';
import { besideWork } from './beside.ts';
import { costSpread, quantilesOf, yearsAhead } from './ahead.ts';
import { deferralCosts } from './deferral.ts';
import { forecastOf, left, NOW, wears } from './testing.ts';
import { preparePlan, proposeVisits, type ProposalGround, type ProposalItem } from './proposal.ts';
import { barredMonths, latestDay, monthOfPlan, type ProposalTerms } from './terms.ts';

const terms: ProposalTerms = {
  months: 36,
  keptMonths: null,
  visitCost: 50,
  labourPerMinute: 1.5,
  capacity: null,
  budget: null,
  yearBudget: null,
  coolingBeforeSummer: false,
  events: [],
  notBeforeDay: null,
};
const life = { scale: 4000, shape: 4, age: 2300 };
const span = { months: 36, keptMonths: null };

describe('what a renewal costs by month', () => {
  test('follows the life itself, as the closed form has it', () => {
    const item = wears('belt', life);
    const costs = renewalCosts(forecastOf(item), item, { parts: 120, labour: 150, failure: 2400 }, span);
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
      { parts: 120, labour: 150, failure: 2400 },
      span,
    );
    const sums = told.map(({ failures, parts, wear }) => failures + parts + wear);
    const least = Math.min(...sums);
    [...byMonth, later].forEach((cost, month) => expect(cost).toBeCloseTo(sums[month]! - least, 9));
  });

  test('of a vehicle that is given away counts only what fails until then', () => {
    const item = wears('belt', life);
    const { byMonth, later, told } = renewalCosts(
      forecastOf(item),
      item,
      { parts: 120, labour: 150, failure: 2400 },
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
  const money = { detection: 0.8, warningDays: 180, failure: 900, isAlone: false };
  const { byMonth, later } = lookCosts(forecastOf(item), item, money, span);
  const hazard = (of: number): number => (of / life.scale) ** life.shape;
  const fails = (days: number): number => -Math.expm1(hazard(life.age) - hazard(life.age + days));
  expect(later).toBe(0);
  expect(byMonth[0]).toBeCloseTo(-0.8 * 900 * fails(180), 1);
  const ten = 10 * PLAN_MONTH_DAYS;
  expect(byMonth[10]).toBeCloseTo(-0.8 * 900 * (fails(ten + 180) - fails(ten)), 1);
  // Nothing is found for an owner who has given it away.
  const kept = lookCosts(forecastOf(item), item, money, { months: 36, keptMonths: 3 });
  expect(kept.byMonth[2]).toBeCloseTo(-0.8 * 900 * (fails(3 * PLAN_MONTH_DAYS) - fails(2 * PLAN_MONTH_DAYS)), 1);
  expect(kept.byMonth[3]).toBe(Infinity);
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

const operations: ProposalGround['operations'] = new Map([
  ['cover', { minutes: 60, needs: [] }],
  ['belt', { minutes: 40, needs: ['cover'] }],
  ['pump', { minutes: 30, needs: ['cover'] }],
  ['seal', { minutes: 25, needs: [] }],
]);
const item = (
  key: string,
  more: Partial<ProposalItem> & Pick<ProposalItem, 'money' | 'aloneMinutes'>,
): ProposalItem => ({
  key,
  operations: [],
  ownMinutes: 0,
  dueDay: null,
  notBeforeDay: null,
  before: null,
  isCooling: false,
  isInspected: false,
  ...more,
});

const belt = wears('belt', life);
const pump = wears('pump', { ...life, age: 2000 });
const seal = wears('seal', { scale: 40_000, shape: 3, age: 10 });
const ground = (): ProposalGround => ({
  forecast: forecastOf(belt, pump, seal),
  operations,
  items: [
    item('belt', {
      operations: ['belt'],
      aloneMinutes: 100,
      money: { kind: 'renew', forecast: belt, parts: 120, failure: 2400 },
    }),
    item('pump', {
      operations: ['pump'],
      aloneMinutes: 90,
      money: { kind: 'renew', forecast: pump, parts: 90, failure: 900 },
    }),
    item('seal', {
      operations: ['seal'],
      aloneMinutes: 25,
      money: { kind: 'renew', forecast: seal, parts: 30, failure: 200 },
    }),
    item('oil', {
      ownMinutes: 35,
      aloneMinutes: 35,
      dueDay: NOW + 100,
      money: { kind: 'task', dueMonth: 100 / PLAN_MONTH_DAYS, everyMonths: null, protects: [] },
    }),
  ],
});
const changed = (of: ProposalGround, key: string, more: Partial<ProposalItem>): ProposalGround => ({
  ...of,
  items: of.items.map((one) => (one.key === key ? { ...one, ...more } : one)),
});
const NO_PINS = new Map<string, number>();
const proposed = (of = ground(), how = terms, pins: ReadonlyMap<string, number> = NO_PINS) =>
  proposeVisits(preparePlan(of, how), { pins, left: left(4000) });

describe('what is proposed', () => {
  test('what shares a cover goes together, what is due by its day, what is new is left; no other way costs less', () => {
    const proposal = proposed()!;
    const of = (key: string): number | undefined => proposal.visits.find(({ keys }) => keys.includes(key))?.month;
    expect(of('belt')).toBe(of('pump'));
    expect(of('belt')).toBeDefined();
    expect(of('oil')).toBeLessThanOrEqual(3);
    expect(proposal.visits.find(({ keys }) => keys.includes('oil'))!.day).toBeLessThanOrEqual(NOW + 100);
    expect(proposal.later).toEqual(['seal']);
    expect(proposal.money.total).toBeLessThanOrEqual(
      Math.min(proposal.apart.total, proposal.allNow.total, proposal.wait.total) + 1e-6,
    );
    for (const { total, labour, parts, failures, wear } of [proposal.money, proposal.apart, proposal.wait])
      expect(labour + parts + failures + wear).toBeCloseTo(total, 9);
    expect(proposal.proven).toBe(true);
    expect(proposal.above).toBe(0);
  });

  test('overdue things come first, by tomorrow; a pin is kept, and costs what it costs', () => {
    const overdue = changed(ground(), 'oil', { dueDay: NOW - 40 });
    const best = proposed(overdue)!;
    const pinned = proposed(overdue, terms, new Map([['seal', 7]]))!;
    expect(pinned.visits[0]).toMatchObject({ month: 0, day: NOW + 1 });
    expect(pinned.visits[0]!.keys).toContain('oil');
    expect(pinned.visits.find(({ keys }) => keys.includes('seal'))!.month).toBe(7);
    expect(pinned.money.total).toBeGreaterThanOrEqual(best.money.total);
  });

  test('before the owner can bring it nothing is proposed; what is due by then comes in on that day', () => {
    const { visits } = proposed(changed(ground(), 'oil', { dueDay: NOW - 40 }), { ...terms, notBeforeDay: NOW + 70 })!;
    expect(Math.min(...visits.map(({ month }) => month))).toBe(2);
    expect(visits[0]!.keys).toContain('oil');
    expect(visits[0]!.day).toBe(NOW + 70);
  });

  test('what is put off by hand is left, also where it is due', () => {
    expect(proposed(ground(), terms, new Map([['oil', 36]]))!.later).toContain('oil');
  });

  test('what is due and fits on no visit has no proposal', () => {
    expect(proposed(ground(), { ...terms, capacity: 20 })).toBeNull();
  });

  test('while something is dragged nothing is said of how good it is', () => {
    const prepared = preparePlan(ground(), terms);
    const quick = proposeVisits(prepared, { pins: new Map([['belt', 3]]), left: left(200), isQuick: true })!;
    expect(quick.above).toBeNull();
    expect(quick.visits.find(({ keys }) => keys.includes('belt'))!.month).toBe(3);
  });

  test('who gives it away in eight months renews nothing whose saving comes later', () => {
    const proposal = proposed(ground(), { ...terms, keptMonths: 8 })!;
    expect(proposal.later).toEqual(expect.arrayContaining(['belt', 'pump', 'seal']));
    expect(proposal.visits.flatMap(({ keys }) => keys)).toEqual(['oil']);
  });

  test('a look is proposed where it pays, before the renewal that it may save, and nowhere else', () => {
    const look = (before: string, failure: number): ProposalItem =>
      item(`look:${before}`, {
        ownMinutes: 5,
        aloneMinutes: 5,
        before,
        money: { kind: 'look', forecast: belt, detection: 0.9, warningDays: 200, failure },
      });
    const late = new Map([['belt', 20]]);
    const with_ = (failure: number) =>
      proposed({ ...ground(), items: [...ground().items, look('belt', failure)] }, terms, late)!;
    const worth = with_(20_000);
    const monthOf = (key: string): number => worth.visits.find(({ keys }) => keys.includes(key))!.month;
    expect(monthOf('look:belt')).toBeLessThan(monthOf('belt'));
    expect(worth.money.total).toBeLessThan(proposed(ground(), terms, late)!.money.total);
    expect(with_(1).visits.flatMap(({ keys }) => keys)).not.toContain('look:belt');
  });

  test('no pins make it cheaper than the plan without any', () => {
    const best = proposed()!.money.total;
    fc.assert(
      fc.property(
        fc.dictionary(fc.constantFrom('belt', 'pump', 'seal'), fc.integer({ min: 0, max: 35 }), { maxKeys: 3 }),
        (pins) => {
          const plan = proposed(ground(), terms, new Map(Object.entries(pins)))!;
          expect(plan.money.total).toBeGreaterThanOrEqual(best - 1e-6);
          for (const [key, month] of Object.entries(pins))
            expect(plan.visits.find(({ keys }) => keys.includes(key))!.month).toBe(month);
        },
      ),
      { numRuns: 25 },
    );
  });
});

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

  test('a month of the planner is a twelfth of a year', () => {
    expect(monthOfPlan(winter, winter + 31)).toBe(1);
    expect(monthOfPlan(winter, winter - 1)).toBe(-1);
  });
});

describe('while you are in there', () => {
  test('the pump behind the same cover adds its own minutes, and pays; the new seal does not', () => {
    const beside = besideWork(preparePlan(ground(), terms), ['belt'], 0);
    const of = (key: string) => beside.find((one) => one.key === key)!;
    expect(of('pump')).toMatchObject({ minutes: 30, alone: 90, labourSaved: 50 + 1.5 * 60 });
    expect(of('pump').gain).toBeGreaterThan(0);
    expect(of('seal')).toMatchObject({ minutes: 25, alone: 25, labourSaved: 50, ownMonth: null });
    expect(of('seal').gain).toBeLessThan(0);
    expect(of('seal').failsBefore).toBeLessThan(0.001);
    expect(beside.map(({ key }) => key)).toEqual(['pump', 'seal']);
  });

  test('a pump that is quite new is left', () => {
    const young = wears('pump', { ...life, age: 180 });
    const with_ = changed(ground(), 'pump', { money: { kind: 'renew', forecast: young, parts: 90, failure: 900 } });
    expect(besideWork(preparePlan(with_, terms), ['belt'], 0).find(({ key }) => key === 'pump')!.gain).toBeLessThan(0);
  });
});

describe('the spread of what may fail', () => {
  test('of one mishap is nothing or all of it', () => {
    expect(quantilesOf([{ chance: 0.2, cost: 500 }], [0.5, 0.79, 0.81])).toEqual([0, 0, 500]);
    expect(quantilesOf([], [0.1, 0.9])).toEqual([0, 0]);
  });

  test('of ten alike is the binomial distribution', () => {
    const ten = Array.from({ length: 10 }, () => ({ chance: 0.3, cost: 100 }));
    // Binomial(10, 0.3): P(X <= 1) = 0.149, P(X <= 2) = 0.383, P(X <= 5) = 0.953, P(X <= 4) = 0.850.
    const [low, middle, high] = quantilesOf(ten, [0.15, 0.38, 0.9]);
    expect([low, middle, high].map((cost) => Math.round(cost! / 100))).toEqual([2, 2, 5]);
  });

  test('the mean of the years is what is expected to fail, visits apart', () => {
    const prepared = preparePlan(ground(), terms);
    const plan = proposeVisits(prepared, {
      pins: new Map([...prepared.items.map(({ key }) => [key, 36] as const)]),
      left: left(500),
    })!;
    const years = yearsAhead(prepared, plan);
    expect(years).toHaveLength(3);
    const hazard = (age: number): number => (age / life.scale) ** life.shape;
    const fails = (from: number, to: number): number =>
      Math.exp(hazard(life.age) - hazard(life.age + from * 365.25)) -
      Math.exp(hazard(life.age) - hazard(life.age + to * 365.25));
    // Belt: 100 minutes at 1.5, 120 for the part, 2,400 beyond.
    const beltYear = 2670 * fails(1, 2);
    const only = yearsAhead(
      preparePlan({ ...ground(), items: ground().items.filter(({ key }) => key === 'belt') }, terms),
      { months: [36] },
    );
    expect(only[1]!.failures).toBeCloseTo(beltYear, -1);
    expect(only[1]!.visits).toBe(0);
    const whole = costSpread(prepared, plan);
    expect(whole.failures).toBeCloseTo(
      years.reduce((sum, { failures }) => sum + failures, 0),
      6,
    );
    expect(whole.failuresLow).toBeLessThanOrEqual(whole.failuresHigh);
  });

  test('in the year of its visit something costs its labour and its parts; the new one may fail after it', () => {
    const prepared = preparePlan({ ...ground(), items: ground().items.filter(({ key }) => key === 'belt') }, terms);
    const [, second, third] = yearsAhead(prepared, { months: [14] });
    expect(second!.visits).toBeCloseTo(50 + 1.5 * 100 + 120, 9);
    const hazard = (age: number): number => (age / life.scale) ** life.shape;
    const days = (month: number): number => month * PLAN_MONTH_DAYS;
    const young = Math.exp(-hazard(days(10))) - Math.exp(-hazard(days(22)));
    expect(third!.failures).toBeCloseTo(2670 * young, 0);
  });
});

describe('keep it or let it go', () => {
  const year = (total: number) => ({ visits: total, failures: 0, failuresLow: 0, failuresHigh: 100, total });
  test('worth lost and money spent, year by year; it goes before the first year that costs more than another', () => {
    const { years, letGo } = keepOrLetGo([year(300), year(200), year(3000)], {
      now: 10_000,
      lossPerYear: 0.1,
      otherPerYear: 2000,
    });
    expect(years.map(({ worthLost }) => Math.round(worthLost))).toEqual([1000, 900, 810]);
    expect(years.map(({ own }) => Math.round(own))).toEqual([1300, 1100, 3810]);
    expect(years[1]!.average).toBeCloseTo(1200, 9);
    expect(years[0]).toMatchObject({ ownLow: 1300, ownHigh: 1400 });
    expect(letGo).toBe(2);
  });
  test('where no year costs more it is kept', () => {
    expect(keepOrLetGo([year(1), year(1)], { now: 0, lossPerYear: 0.2, otherPerYear: 10 }).letGo).toBeNull();
  });
  test('it cannot lose all of its worth', () => {
    expect(() => keepOrLetGo([], { now: 1, lossPerYear: 1, otherPerYear: 1 })).toThrow('lossPerYear');
  });
});
