import type { Forecast, ItemForecast } from '../forecast/forecast.ts';
import { bestAge } from '../schools/ageReplacement.ts';
import { deferralCosts } from './deferral.ts';
import { itemCosts, PLAN_MONTH_DAYS, proposeVisits, type ProposalGround, type ProposalTerms } from './proposal.ts';

const NOW = 20_000;
/** Every thirty days for sixteen years. */
const AHEAD = Array.from({ length: 196 }, (_, i) => i * 30);

/** A part of a Weibull life in days, so many days old, and its successors. */
function wears(
  weakPointId: string,
  { scale, shape, age }: { scale: number; shape: number; age: number },
): ItemForecast {
  const hazard = (days: number): number => (days / scale) ** shape;
  const failed = AHEAD.map((days) => -Math.expm1(hazard(age) - hazard(age + days)));
  return { weakPointId, failed, renewed: AHEAD.map((days) => -Math.expm1(-hazard(days))), chance: failed };
}
const forecastOf = (...items: ItemForecast[]): Forecast => ({ nowDay: NOW, serviceDays: 365, ahead: AHEAD, items });

const terms: ProposalTerms = { months: 36, visitCost: 50, labourPerMinute: 1.5, capacity: null, budget: null };
const operations: ProposalGround['operations'] = new Map([
  ['cover', { minutes: 60, needs: [] }],
  ['belt', { minutes: 40, needs: ['cover'] }],
  ['pump', { minutes: 30, needs: ['cover'] }],
  ['seal', { minutes: 25, needs: [] }],
]);
const life = { scale: 4000, shape: 4, age: 2300 };

test('costs by month follow those of the life itself, as the closed form has them', () => {
  const item = wears('belt', life);
  const costs = itemCosts(
    forecastOf(item),
    { forecast: item, parts: 120, failure: 2400, ownMinutes: 0 },
    { months: 36, labourPerMinute: 1.5, aloneMinutes: 100 },
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

test('what does not fail costs the same whenever it is done', () => {
  expect(
    itemCosts(forecastOf(), { forecast: null, parts: 5, failure: 0, ownMinutes: 9 }, { ...terms, aloneMinutes: 9 }),
  ).toEqual({ byMonth: Array.from({ length: 36 }, () => 0), later: 0 });
});

const ground = (): ProposalGround => {
  const [belt, pump, seal] = [
    wears('belt', life),
    wears('pump', { ...life, age: 2000 }),
    wears('seal', { scale: 40_000, shape: 3, age: 10 }),
  ];
  return {
    forecast: forecastOf(belt, pump, seal),
    operations,
    items: [
      {
        key: 'belt',
        operations: ['belt'],
        ownMinutes: 0,
        parts: 120,
        failure: 2400,
        forecast: belt,
        dueDay: null,
        pin: null,
        aloneMinutes: 100,
      },
      {
        key: 'pump',
        operations: ['pump'],
        ownMinutes: 0,
        parts: 90,
        failure: 900,
        forecast: pump,
        dueDay: null,
        pin: null,
        aloneMinutes: 90,
      },
      {
        key: 'seal',
        operations: ['seal'],
        ownMinutes: 0,
        parts: 30,
        failure: 200,
        forecast: seal,
        dueDay: null,
        pin: null,
        aloneMinutes: 25,
      },
      {
        key: 'oil',
        operations: [],
        ownMinutes: 35,
        parts: 0,
        failure: 0,
        forecast: null,
        dueDay: NOW + 100,
        pin: null,
        aloneMinutes: 35,
      },
    ],
  };
};
const left = (most: number): { left: () => number } => {
  let asked = 0;
  return {
    left: () => {
      asked += 1;
      return 1 - asked / most;
    },
  };
};

test('what shares a cover goes together, what is due by its day, what is new is left; no other way costs less', () => {
  const proposal = proposeVisits(ground(), terms, left(4000))!;
  const of = (key: string): number | undefined => proposal.visits.find(({ keys }) => keys.includes(key))?.month;
  expect(of('belt')).toBe(of('pump'));
  expect(of('belt')).toBeDefined();
  expect(of('oil')).toBeLessThanOrEqual(3);
  expect(proposal.visits.find(({ keys }) => keys.includes('oil'))!.day).toBeLessThanOrEqual(NOW + 100);
  expect(proposal.later).toEqual(['seal']);
  expect(proposal.cost).toBeLessThanOrEqual(Math.min(proposal.apart, proposal.allNow, proposal.wait) + 1e-9);
  expect(proposal.bound).toBeLessThanOrEqual(proposal.cost + 1e-9);
});

test('overdue things come first, by tomorrow; a pin is kept', () => {
  const with_ = ground();
  const items = with_.items.map((item) =>
    item.key === 'oil' ? { ...item, dueDay: NOW - 40 } : item.key === 'seal' ? { ...item, pin: 7 } : item,
  );
  const proposal = proposeVisits({ ...with_, items }, terms, left(4000))!;
  expect(proposal.visits[0]).toMatchObject({ month: 0, day: NOW + 1 });
  expect(proposal.visits[0]!.keys).toContain('oil');
  expect(proposal.visits.find(({ keys }) => keys.includes('seal'))!.month).toBe(7);
});

test('what is due and fits on no visit has no proposal', () => {
  expect(proposeVisits(ground(), { ...terms, capacity: 20 }, left(200))).toBeNull();
});
