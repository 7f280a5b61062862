import { cheapestAgeDays, conditionPlan } from '../schools/schools.ts';
import { asTold } from '../life/risk.ts';
import type { School } from '../schools/schools.ts';
import { distanceClock } from '../usage/clock.ts';
import { usagePath } from '../usage/path.ts';
import { BELT, done, each, everywhere, input, TODAY } from './belt.ts';
import { outlook } from './outlook.ts';
import { livesOf } from './part.ts';
import type { OutlookInput, OutlookRow, SchoolChoice, WeakPointFact } from './types.ts';

const services = [done(1000)];
const row = (changes: Partial<OutlookInput> = {}): OutlookRow => outlook(input({ services, ...changes })).rows[0]!;
const view = (of: OutlookRow, school: School) => of.schools.find((one) => one.school === school)!;
const only = (changes: Partial<WeakPointFact>, policy: Partial<OutlookInput['policy']> = {}): OutlookRow =>
  row({ weakPoints: [{ ...BELT, ...changes }], policy: { ...input().policy, ...policy } });

test('Book has a date where anybody published an interval, and says where nobody did', () => {
  expect(view(row(), 'book')).toMatchObject({ because: 'interval', everyDays: null });
  expect(view(only({ statements: [] }), 'book')).toEqual({
    school: 'book',
    due: null,
    because: 'no_interval',
    asks: 'renew',
    everyDays: null,
  });
});

test('Early: no limit, over it, in sight, or not within the years that are looked at', () => {
  const early = (limit: number) => view(only({}, { limits: each(limit) }), 'early');
  expect(early(Infinity)).toEqual({ school: 'early', due: null, because: 'no_limit', asks: 'renew', everyDays: null });
  expect(early(0.999)).toEqual({ school: 'early', due: null, because: 'not_in_sight', asks: 'renew', everyDays: null });
  expect(early(1e-9)).toMatchObject({ because: 'limit', due: { day: TODAY } });
  expect(early(0.03).due!.day).toBeGreaterThan(TODAY);
});

test('Condition says where there is no look', () =>
  expect(view(only({ look: null }), 'condition')).toEqual({
    school: 'condition',
    due: null,
    because: 'no_look',
    asks: 'look',
    everyDays: null,
  }));

test('Condition looks from the day on which it is worth it, whatever the number of that day', () => {
  // Day 0 is a date like any other: of a part put in before it the first look may lie on either side.
  const leak: WeakPointFact = { ...BELT, consequence: 'leak' };
  const early = { ...input(), weakPoints: [leak], today: 30, path: usagePath([{ day: 30, km: 80_000 }], -1500, 41) };
  const view = (installDay: number) =>
    outlook({ ...early, services: [{ ...done(0), day: installDay }] }).rows[0]!.schools.find(
      ({ school }) => school === 'condition',
    )!;
  const { startDay } = conditionPlan(
    asTold(livesOf(BELT, { distance: distanceClock(early.path) }, { distance: 1, age: 1 }, 'original')),
    { installDay: -1400, serviceDays: 365 },
    { warningDays: 20_000 / 41, detection: 0.8 },
    'leak',
  );
  expect(view(-1400).due!.day).toBeCloseTo(Math.max(30, startDay), 0);
  expect(startDay).toBeLessThan(view(-1400).everyDays! - 100);
});

test('Cost weighs labour and the part together; what costs nothing to renew has no cheapest age', () => {
  const life = asTold(livesOf(BELT, { distance: distanceClock(input().path) }, { distance: 1, age: 1 }, 'original'));
  const cost = (changes: Partial<WeakPointFact>) => view(only({ renewMinutes: 90, ...changes }), 'cost');
  const due = (planned: number): number =>
    TODAY - 1000 + cheapestAgeDays(life, 1, { planned, failure: planned + 400_000 }, TODAY - 1000);
  expect(cost({ partPrice: 50_000 }).due!.day).toBeCloseTo(due(1.5 * 9600 + 50_000), 6);
  expect(cost({ partPrice: null }).due!.day).toBeCloseTo(due(1.5 * 9600), 6);
  expect(cost({ renewMinutes: 0, partPrice: null })).toEqual({
    school: 'cost',
    due: null,
    because: 'run_to_failure',
    asks: 'renew',
    everyDays: null,
  });
});

test('Cost takes what a failure costs as it is told of the weak point, parts and labour, before the shop’s figure', () => {
  const life = asTold(livesOf(BELT, { distance: distanceClock(input().path) }, { distance: 1, age: 1 }, 'original'));
  const planned = 1.5 * 9600;
  const told = view(only({ renewMinutes: 90, partPrice: null, failure: { parts: 185_000, minutes: 1500 } }), 'cost');
  const failure = planned + 185_000 + 25 * 9600;
  expect(told.due!.day).toBeCloseTo(TODAY - 1000 + cheapestAgeDays(life, 1, { planned, failure }, TODAY - 1000), 6);
});

describe('who decides', () => {
  const followed = (
    choices: readonly SchoolChoice[],
    weakPoint: Partial<WeakPointFact> = {},
    school: School = 'early',
  ) =>
    row({
      choices,
      weakPoints: [{ ...BELT, ...weakPoint }],
      policy: { ...input().policy, schools: everywhere(school) },
    });
  const chosen = (school: School, weakPointId: string | null, reason = 'said so'): SchoolChoice => ({
    school,
    weakPointId,
    reason,
  });

  test('the last choice for the row, else the last for the vehicle; another row’s is none', () => {
    expect(followed([chosen('book', 'belt'), chosen('cost', 'belt', 'changed')])).toMatchObject({
      followed: 'cost',
      followedBecause: { by: 'row', reason: 'changed' },
    });
    expect(followed([chosen('book', null), chosen('cost', null, 'changed')])).toMatchObject({
      followed: 'cost',
      followedBecause: { by: 'vehicle', reason: 'changed' },
    });
    expect(followed([chosen('book', 'pump')])).toMatchObject({ followed: 'early', followedBecause: { by: 'shop' } });
  });

  test('safety forbids Cost and nothing else', () => {
    expect(followed([chosen('cost', 'belt')], { safety: true }).followedBecause.by).toBe('safety');
    expect(followed([chosen('book', 'belt')], { safety: true })).toMatchObject({
      followed: 'book',
      followedBecause: { by: 'row' },
    });
    expect(followed([chosen('cost', 'belt')])).toMatchObject({ followed: 'cost', followedBecause: { by: 'row' } });
  });

  test('where a school has nothing to go by Early decides, and what was wanted stays in sight', () => {
    for (const [school, weakPoint] of [
      ['condition', { look: null }],
      ['book', { statements: [] }],
    ] as const)
      expect(followed([], weakPoint, school)).toMatchObject({
        followed: 'early',
        followedBecause: { by: 'nothing_to_go_by', wanted: school, reason: null },
      });
  });
});
