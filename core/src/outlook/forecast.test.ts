import { anyFailedByDay, failedAfterRenewal, failedByDay, type Forecast } from '../forecast/forecast.ts';
import { DEFAULT_DUTY_FACTORS } from '../duty/duty.ts';
import { usagePath } from '../usage/path.ts';
import { CONSEQUENCES, DEFAULT_LIMITS, type Consequence } from '../decision/kinds.ts';
import { outlook } from './outlook.ts';
import type { OutlookInput, ServiceFact, WeakPointFact } from './types.ts';

const TODAY = 20_000;
const each = <T>(value: T): Record<Consequence, T> =>
  Object.fromEntries(CONSEQUENCES.map((consequence) => [consequence, value])) as Record<Consequence, T>;
/** Fails with age alone: half of them by 3000 days, shape 3.5 (rubber). */
const HOSE: WeakPointFact = {
  id: 'hose',
  key: 'hose',
  title: 'Hose',
  component: 'Hose',
  componentKey: 'hose',
  componentClass: 'rubber',
  nature: 'wear',
  group: 'cooling',
  consequence: 'stranded',
  safety: false,
  effect: '',
  signs: '',
  share: 1,
  causes: [[{ clock: 'age', from: 3000, to: 3000 }]],
  look: null,
  renewMinutes: 30,
  access: [],
  partPrice: null,
  appliesTo: {},
  retiredByRevision: null,
  watch: null,
  damages: [],
  symptoms: [],
  failure: null,
  hastens: [],
  revisions: [],
  fittedTo: 'engine',
  revisedHowToTell: null,
  experience: null,
  statements: [],
};
const done = (daysAgo: number, revision: string | null = null): ServiceFact => ({
  componentKey: 'hose',
  certainty: 'done',
  day: TODAY - daysAgo,
  grade: 'original',
  revision,
  source: null,
  cameOut: null,
});
const forecastOf = (weakPoints: readonly WeakPointFact[], services: readonly ServiceFact[]): Forecast => {
  const input: OutlookInput = {
    today: TODAY,
    path: usagePath([{ day: TODAY, km: 120_000 }], TODAY - 3650, 41),
    rateSpread: 0.2,
    severity: 1,
    engine: null,
    duty: {},
    counted: false,
    choices: [],
    facts: { variants: [], model: null, market: null, producedDay: null, producedSlackDays: 0, features: {} },
    weakPoints,
    services,
    findings: [],
    tasks: [],
    upkeep: [],
    policy: {
      serviceKm: 1e9,
      serviceDays: 365,
      holdDays: 14,
      limits: DEFAULT_LIMITS,
      safetyLimit: 0.01,
      proofFor: [],
      schools: each('early' as const),
      failureCost: each(0),
      labourCostPerHour: 60,
      dutyFactors: DEFAULT_DUTY_FACTORS,
    },
  };
  return JSON.parse(JSON.stringify(outlook(input, { drawn: true }).drawing!.forecast)) as Forecast;
};
/** F(x) = 1 - 2^-((x / 3000)^3.5), in closed form. */
const failed = (age: number): number => 1 - 0.5 ** ((age / 3000) ** 3.5);

test('a part of known age: failed by each day, and the chance from each day on, as the closed form has it', () => {
  const { ahead, items } = forecastOf([HOSE], [done(1000)]);
  const [hose] = items;
  expect(ahead[0]).toBe(0);
  expect(ahead.at(-1)).toBeCloseTo(8 * 365.25, 9);
  ahead.forEach((days, i) => {
    const running = (day: number): number => (1 - failed(1000 + day)) / (1 - failed(1000));
    expect(hose!.failed[i]).toBeCloseTo(1 - running(days), 9);
    // Between two days of the grid the hazard is taken as constant.
    expect(hose!.chance[i]).toBeCloseTo(1 - running(days + 365) / running(days), 3);
  });
});

test('a part put in new fails by its age, whatever the one before it had lived', () => {
  const young = forecastOf([HOSE], [done(100)]);
  const old = forecastOf([HOSE], [done(2900)]);
  young.ahead.forEach((days, i) => {
    expect(young.items[0]!.renewed[i]).toBeCloseTo(failed(days), 9);
    expect(old.items[0]!.renewed[i]).toBeCloseTo(failed(days), 9);
  });
});

test('a faded defect stays faded in the part put in new; one whose revision ended it never fails', () => {
  const share = 0.2;
  const defect: WeakPointFact = { ...HOSE, componentClass: 'early', nature: 'defect', share };
  const forecast = forecastOf([defect], [done(3000)]);
  // The class's own shape, 0.8: half of the susceptible have failed by now, so that 1 in 9 of those running is one.
  const left = (share * 0.5) / (1 - share * 0.5);
  forecast.ahead.forEach((days, i) => {
    expect(forecast.items[0]!.renewed[i]).toBeCloseTo(left * (1 - 0.5 ** ((days / 3000) ** 0.8)), 9);
  });
  const ended: WeakPointFact = { ...HOSE, retiredByRevision: 'B' };
  expect(Math.max(...forecastOf([ended], [done(1000)]).items[0]!.renewed)).toBe(0);
  expect(Math.max(...forecastOf([ended], [done(1000)]).items[0]!.failed)).toBeGreaterThan(0.5);
  const [never] = forecastOf([ended], [done(1000, 'B')]).items;
  for (const chances of [never!.failed, never!.chance]) expect(chances.every((value) => value === 0)).toBe(true);
});

test('a chance is read between the days of the forecast, nothing before now, no more than its last after it', () => {
  const forecast = forecastOf([HOSE], [done(1000)]);
  const [item] = forecast.items as [Forecast['items'][number]];
  const between = 1 - (1 - failed(1000 + 500)) / (1 - failed(1000));
  expect(failedByDay(forecast, item, TODAY + 500)).toBeCloseTo(between, 3);
  expect(failedByDay(forecast, item, TODAY)).toBe(0);
  expect(failedByDay(forecast, item, TODAY - 1)).toBe(0);
  expect(failedByDay(forecast, item, TODAY + 1e6)).toBe(item.failed.at(-1));
  const step = forecast.ahead[1]!;
  expect(failedByDay(forecast, item, TODAY + step)).toBe(item.failed[1]);
  expect(failedAfterRenewal(forecast, item, TODAY + 100, TODAY + 100 + step)).toBe(item.renewed[1]);
  expect(failedAfterRenewal(forecast, item, TODAY + 100, TODAY + 100)).toBe(0);
});

test('of several at least one fails: one less the product; what is not in the forecast adds nothing', () => {
  const forecast = forecastOf([HOSE, { ...HOSE, id: 'other' }], [done(1000)]);
  const one = failedByDay(forecast, forecast.items[0]!, TODAY + 730.5);
  expect(anyFailedByDay(forecast, ['hose'], TODAY + 730.5)).toBeCloseTo(one, 12);
  expect(anyFailedByDay(forecast, ['hose', 'other', 'none'], TODAY + 730.5)).toBeCloseTo(1 - (1 - one) ** 2, 12);
  expect(anyFailedByDay(forecast, [], TODAY + 730.5)).toBe(0);
});

test('what has as good as failed by the next day is read without a break', () => {
  const forecast: Forecast = {
    nowDay: 0,
    serviceDays: 365,
    ahead: [0, 10],
    items: [{ weakPointId: 'a', chance: [1, 1], failed: [0, 1], renewed: [0, 1] }],
  };
  expect(failedByDay(forecast, forecast.items[0]!, 5)).toBe(0.5);
});
