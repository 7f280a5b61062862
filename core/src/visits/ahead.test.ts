import { keepOrLetGo } from './keeping.ts';
import { PLAN_MONTH_DAYS } from './item-costs.ts';
import { costSpread, quantilesOf, yearsAhead } from './ahead.ts';
import { preparePlan, proposeVisits, type ProposalItem } from './proposal.ts';
import { left, terms, life, item, belt, ground } from './testing.ts';

describe('the spread of what may fail', () => {
  test('of one mishap is nothing or all of it', () => {
    expect(quantilesOf([{ chance: 0.2, cost: 500 }], [0.5, 0.79, 0.81])).toEqual([0, 0, 500]);
    expect(quantilesOf([], [0.1, 0.9])).toEqual([0, 0]);
  });

  test('of two unlike is all four sums with their chances', () => {
    // 0: 0.56; 100: 0.24, by then 0.80; 250: 0.14, by then 0.94; 350: 0.06.
    const two = [
      { chance: 0.3, cost: 100 },
      { chance: 0.2, cost: 250 },
    ];
    const told = quantilesOf(two, [0.55, 0.57, 0.79, 0.81, 0.93, 0.95, 1]);
    [0, 100, 100, 250, 250, 350, 350].forEach((sum, i) => expect(Math.abs(told[i]! - sum)).toBeLessThan(1));
    // What costs nothing changes nothing.
    expect(quantilesOf([{ chance: 0.5, cost: 0 }], [0.9])).toEqual([0]);
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

  const only = (...items: ProposalItem[]) => preparePlan({ ...ground(), items }, terms);
  const fails = (days: number): number =>
    -Math.expm1((life.age / life.scale) ** life.shape - ((life.age + days) / life.scale) ** life.shape);
  const looked = item('look:belt', {
    ownMinutes: 20,
    aloneMinutes: 20,
    money: {
      kind: 'look',
      forecast: belt,
      detection: 0.8,
      warningDays: 100,
      failure: 1000,
      renewal: 270,
      isAlone: true,
    },
  });

  test('a look takes away what it sees coming, in the year in which that would have failed', () => {
    const [first, second] = yearsAhead(only(looked), { months: [11] });
    const at = 11 * PLAN_MONTH_DAYS;
    const year = 12 * PLAN_MONTH_DAYS;
    // A part of its warning time lies in the year after it.
    expect(first!.failures).toBeCloseTo(1270 * fails(year) - 0.8 * 1000 * (fails(year) - fails(at)), 0);
    expect(second!.failures).toBeCloseTo(
      1270 * (fails(2 * year) - fails(year)) - 0.8 * 1000 * (fails(at + 100) - fails(year)),
      0,
    );
    expect(first!.visits).toBeCloseTo(50 + 1.5 * 20, 9);
    for (const month of [36, 14, 12])
      expect(yearsAhead(only(looked), { months: [month] })[0]!.failures).toBeCloseTo(1270 * fails(year), 0);
  });

  test('a look that nothing asks for takes it from what its renewal counts; a task has nothing that fails', () => {
    const renewal = ground().items[0]!;
    const both = only(renewal, { ...looked, before: 'belt', money: { ...looked.money, isAlone: false } as never });
    const [first] = yearsAhead(both, { months: [36, 2] });
    const at = 2 * PLAN_MONTH_DAYS;
    const saved = 0.8 * 1000 * (fails(at + 100) - fails(at));
    expect(first!.failures).toBeCloseTo(2670 * fails(12 * PLAN_MONTH_DAYS) - saved, 0);
    expect(first!.total).toBeCloseTo(first!.visits + first!.failures, 9);
    expect(yearsAhead(only(ground().items[3]!), { months: [11] })).toMatchObject([
      { visits: 50 + 1.5 * 35, failures: 0, failuresHigh: 0 },
      { visits: 0 },
      { visits: 0 },
    ]);
    expect(yearsAhead(only(ground().items[3]!), { months: [12] }).map(({ visits }) => visits > 0)).toEqual([
      false,
      true,
      false,
    ]);
  });

  test('all years together are their sum; their spread is that of everything that may fail in them', () => {
    const prepared = preparePlan(ground(), terms);
    const plan = { months: [36, 36, 36, 3] };
    const years = yearsAhead(prepared, plan);
    const whole = costSpread(prepared, plan);
    for (const part of ['visits', 'failures', 'total'] as const)
      expect(whole[part]).toBeCloseTo(
        years.reduce((sum, year) => sum + year[part], 0),
        6,
      );
    // The belt alone fails within three years in one case of four: that and nothing beside it is the high end.
    const three = fails(36 * PLAN_MONTH_DAYS);
    expect(three).toBeGreaterThan(0.05);
    expect(costSpread(only(ground().items[0]!), { months: [36] })).toMatchObject({
      failuresLow: 0,
      failuresHigh: 2670,
    });
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
  test('a year that costs as much is kept, one that costs more is not, were it the first', () => {
    const letGo = (...totals: number[]) =>
      keepOrLetGo(totals.map(year), { now: 0, lossPerYear: 0, otherPerYear: 10 }).letGo;
    expect([letGo(10, 10), letGo(11, 1), letGo(1, 11)]).toEqual([null, 0, 1]);
  });
  test('in nine cases of ten it lies between what is certain and what may fail beside it', () => {
    const [only] = keepOrLetGo([{ visits: 300, failures: 50, failuresLow: 20, failuresHigh: 900, total: 350 }], {
      now: 1000,
      lossPerYear: 0.1,
      otherPerYear: 1,
    }).years;
    expect(only).toMatchObject({ own: 450, ownLow: 420, ownHigh: 1300, worthAtEnd: 900, average: 450 });
  });
  test('where no year costs more it is kept', () => {
    expect(keepOrLetGo([year(1), year(1)], { now: 0, lossPerYear: 0.2, otherPerYear: 10 }).letGo).toBeNull();
  });
  test('it cannot lose all of its worth', () => {
    for (const lossPerYear of [1, -0.1, NaN])
      expect(() => keepOrLetGo([], { now: 1, lossPerYear, otherPerYear: 1 })).toThrow('lossPerYear');
  });
});
