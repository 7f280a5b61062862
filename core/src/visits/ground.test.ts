import { proposalGround, usualTerms, type ToldPoint, type ToldVehicle } from './ground.ts';
import { keyMeans, lookKey, pointKey, taskKey } from './keys.ts';
import { ifFoundWorn } from './proposal.ts';
import type { ToldTask } from './upkeep-items.ts';
import { forecastOf, NOW, wears } from './testing.ts';

const belt = wears('belt', { scale: 4000, shape: 4, age: 2300 });
const hose = wears('hose', { scale: 6000, shape: 3, age: 900 });
const point = (weakPointId: string, more: Partial<ToldPoint> = {}): ToldPoint => ({
  weakPointId,
  verdict: 'run_on',
  group: 'timing',
  consequence: 'engine',
  safety: false,
  watch: null,
  due: null,
  component: weakPointId,
  rides: null,
  work: null,
  installs: [],
  failure: null,
  operation: 'belt-renew',
  renewMinutes: 99,
  partPrice: 80,
  look: null,
  authorities: [],
  ...more,
});
const task = (more: Partial<ToldTask> = {}): ToldTask => ({
  taskId: 'oil',
  kind: 'fluid',
  season: null,
  minutes: 35,
  ownerCan: false,
  standing: 'due',
  due: { day: NOW + 100 },
  lastDay: NOW - 265,
  by: 'book',
  statements: [{ authority: 'book', interval: [{ clock: 'age', from: 365, to: 365 }] }],
  protects: [],
  ...more,
});
const told = (more: Partial<ToldVehicle> = {}): ToldVehicle => ({
  forecast: forecastOf(belt, hose),
  operations: new Map([
    ['cover', { minutes: 60, needs: [] }],
    ['belt-renew', { minutes: 40, needs: ['cover'] }],
  ]),
  points: [point('belt')],
  tasks: [],
  rateKmPerDay: 50,
  standing: new Map(),
  isBought: false,
  isEveryRenewal: false,
  ...more,
});
const policy = {
  labourCostPerHour: 60,
  failureCost: { engine: 4000, stranded: 1, damage: 1, leak: 1, drivability: 1, emissions: 1, cosmetic: 1 },
};
const items = (more: Partial<ToldVehicle> = {}) => proposalGround(told(more), { months: 36, policy }).items;
const look = {
  minutes: 10,
  off: ['cover'],
  detection: 0.8,
  warning: [
    { clock: 'distance' as const, from: 5000, to: 5000 },
    { clock: 'age' as const, from: 300, to: 300 },
  ],
};

/** The school that is followed would renew it within the plan. */
const AHEAD = { day: NOW + 400 };

describe('weak points', () => {
  test('a renewal has its operations with all access, its part, and what a failure costs', () => {
    expect(items({ points: [point('belt', { due: AHEAD })] })).toMatchObject([
      {
        key: pointKey('belt'),
        operations: ['belt-renew'],
        aloneMinutes: 100,
        dueDay: null,
        money: { kind: 'renew', parts: 80, failure: 4000 },
      },
    ]);
  });

  test('without a known operation the minutes that are told for the whole', () => {
    expect(items({ points: [point('belt', { operation: 'unheard-of', due: AHEAD })] })).toMatchObject([
      { operations: [], ownMinutes: 99, aloneMinutes: 99 },
    ]);
  });

  const custom = {
    asks: 'renew' as const,
    interval: [{ clock: 'age' as const, from: 3000, to: 3000 }],
    doubted: false,
    setAside: null,
  };

  test('what nobody renews by interval and can be looked at is looked at; else it is renewed by its school’s date', () => {
    const keys = (more: Partial<ToldPoint>): string[] =>
      items({ points: [point('belt', { look, due: AHEAD, ...more })] }).map(({ key }) => key);
    expect(keys({})).toEqual([lookKey('belt')]);
    expect(keys({ authorities: [{ ...custom, doubted: true }] })).toEqual([lookKey('belt')]);
    expect(keys({ authorities: [{ ...custom, setAside: { because: 'region' } }] })).toEqual([lookKey('belt')]);
    expect(keys({ authorities: [{ ...custom, asks: 'look' }] })).toEqual([lookKey('belt')]);
    expect(keys({ authorities: [{ ...custom, interval: [] }] })).toEqual([lookKey('belt')]);
    expect(keys({ authorities: [custom] })).toEqual([pointKey('belt'), lookKey('belt')]);
    expect(keys({ look: null })).toEqual([pointKey('belt')]);
    // A chain that a cheap and sure look settles is measured, and renewed if it is found worn; the cover counts.
    const sure = { ...look, detection: 0.9 };
    expect(keys({ authorities: [custom], look: sure, renewMinutes: 4 * 70 })).toEqual([lookKey('belt')]);
    expect(keys({ authorities: [custom], look: sure, renewMinutes: 4 * 70 - 1 })).toHaveLength(2);
    expect(keys({ authorities: [custom], look, renewMinutes: 4 * 70 })).toHaveLength(2);
    // While it is apart, every renewal is a question.
    const every = items({ points: [point('belt', { look, verdict: 'look' })], isEveryRenewal: true });
    expect(every.map(({ key }) => key)).toEqual([pointKey('belt')]);
  });

  test('nothing is renewed that no decision asks for and no school dates within the plan', () => {
    const isLeft = (more: Partial<ToldPoint>): boolean[] =>
      items({ points: [point('belt', { authorities: [custom], ...more })] }).map(({ isOnlyByHand }) => isOnlyByHand);
    expect(isLeft({ due: null })).toEqual([true]);
    expect(isLeft({ due: { day: NOW + 36 * 30.4375 } })).toEqual([true]);
    expect(isLeft({ due: { day: NOW + 36 * 30.4375 - 1 } })).toEqual([false]);
    expect(isLeft({ due: AHEAD, verdict: 'watch' })).toEqual([true]);
  });

  test('what may be left until it fails is told so: nothing grave, and nothing that is asked for', () => {
    const left = (more: Partial<ToldPoint>): unknown => {
      const [item] = items({ points: [point('belt', { due: AHEAD, ...more })] });
      return item!.money.kind === 'renew' && item!.money.canLeave;
    };
    expect(left({})).toBe(false);
    expect(left({ consequence: 'stranded' })).toBe(true);
    expect(left({ consequence: 'stranded', safety: true })).toBe(false);
    expect(left({ consequence: 'stranded', verdict: 'renew' })).toBe(false);
  });

  test('what can be looked at has a look beside its renewal, which the shorter of its warnings bounds', () => {
    // 5,000 km at 50 km a day are 100 days, fewer than 300.
    expect(items({ points: [point('belt', { look, due: AHEAD, authorities: [custom] })] })).toMatchObject([
      { key: pointKey('belt') },
      { key: lookKey('belt'), before: pointKey('belt'), aloneMinutes: 70, money: { warningDays: 100, failure: 4000 } },
    ]);
  });

  test('what goes along stands with its job, by its day', () => {
    const due = { day: NOW + 50 };
    const rides = { weakPointId: 'belt' };
    const points = [
      point('belt', { verdict: 'renew', due }),
      point('hose', { verdict: 'ride_along', due, rides, look }),
    ];
    expect(items({ points })).toMatchObject([
      { key: pointKey('belt'), goesWith: null },
      { key: pointKey('hose'), goesWith: pointKey('belt'), dueDay: NOW + 50 },
    ]);
  });

  test('what a job names as new goes with it where the job is only planned, unless it was renewed of late', () => {
    const job = point('belt', { due: AHEAD, authorities: [custom], work: { renewWith: ['hose'] } });
    const with_ = (more: Partial<ToldPoint>): (string | null)[] =>
      items({ points: [job, point('hose', more)] }).map(({ goesWith }) => goesWith);
    expect(with_({})).toEqual([null, pointKey('belt')]);
    const renewed = (day: number) => ({ installs: [{ certainty: 'done', day }] });
    // A quarter of 3,000 days before the job.
    expect(with_(renewed(NOW + 400 - 750))).toEqual([null, pointKey('belt')]);
    expect(with_(renewed(NOW + 400 - 749))).toEqual([null, null]);
    expect(items({ points: [{ ...job, due: null }, point('hose')] }).map(({ goesWith }) => goesWith)).toEqual([
      null,
      null,
    ]);
  });

  test('what is asked for is done rather than looked at; a look that is asked for is a look, by its day', () => {
    const due = { day: NOW + 50 };
    expect(items({ points: [point('belt', { look, verdict: 'renew', due })] })).toMatchObject([
      { key: pointKey('belt'), dueDay: NOW + 50 },
    ]);
    expect(items({ points: [point('belt', { look, verdict: 'look', due })] })).toMatchObject([
      { key: lookKey('belt'), dueDay: NOW + 50, before: null },
    ]);
  });

  test('what stands on a visit is planned as it stands there', () => {
    const points = [point('belt', { look, verdict: 'look', due: { day: NOW + 50 } })];
    expect(items({ points, standing: new Map([['belt', 'renew']]) }).map(({ key }) => key)).toEqual([pointKey('belt')]);
    // Also where nothing asks for it, and where every renewal is a question.
    const quiet = [point('belt', { look })];
    for (const isEveryRenewal of [false, true]) {
      const keys = (stands: 'renew' | 'look') =>
        items({ points: quiet, standing: new Map([['belt', stands]]), isEveryRenewal }).map(({ key }) => key);
      expect([keys('renew'), keys('look')]).toEqual([[pointKey('belt')], [lookKey('belt')]]);
    }
  });

  test('what has to come off is what the engine has operations for', () => {
    const off = (keys: readonly string[] | undefined) =>
      items({ points: [point('belt', { look: { ...look, off: keys as string[] }, verdict: 'look' })] })[0];
    expect(off(['cover', 'unheard-of'])).toMatchObject({ operations: ['cover'], aloneMinutes: 70 });
    expect(off(undefined)).toMatchObject({ operations: [], aloneMinutes: 10 });
  });

  test('where no look is told there is none; a warning in hours alone lasts to the service', () => {
    expect(items({ points: [point('belt', { verdict: 'look', due: AHEAD })] })).toEqual([]);
    const hours = [{ clock: 'hours' as const, from: 200, to: 200 }];
    expect(items({ points: [point('belt', { look: { ...look, warning: hours } })] })[0]!.money).toMatchObject({
      warningDays: 365,
    });
  });

  test('a look at what has no forecast is planned where it is asked for, or agreed', () => {
    const unknown = point('unheard-of', { verdict: 'look', look });
    expect(items({ points: [unknown] })).toEqual([]);
    expect(items({ points: [{ ...unknown, due: { day: NOW + 9 } }] })[0]).toMatchObject({
      key: lookKey('unheard-of'),
      ownMinutes: 10,
      money: { forecast: null },
    });
    expect(items({ points: [unknown], standing: new Map([['unheard-of', 'look']]) })).toHaveLength(1);
  });

  test('what does not apply any more, what nobody renews, and what nothing is known of are left out', () => {
    expect(items({ points: [point('belt', { verdict: 'behind_it' })] })).toEqual([]);
    expect(items({ points: [point('belt', { watch: { task: 'top up' } })] })).toEqual([]);
    expect(items({ points: [point('unheard-of')] })).toEqual([]);
  });

  test('an inspection finds leaks, fumes and what is a matter of safety', () => {
    const inspected = (more: Partial<ToldPoint>): boolean =>
      items({ points: [point('belt', { due: AHEAD, ...more })] })[0]!.isInspected;
    expect(inspected({})).toBe(false);
    expect(inspected({ consequence: 'leak' })).toBe(true);
    expect(inspected({ consequence: 'emissions' })).toBe(true);
    expect(inspected({ safety: true })).toBe(true);
    expect(items({ points: [point('belt', { group: 'cooling', due: AHEAD })] })[0]!.isCooling).toBe(true);
    expect(items({ points: [point('belt', { group: 'seals', due: AHEAD })] })[0]!.isCooling).toBe(false);
  });
});

test('a part is counted at its own price, else at the usual one of its class, else at nothing; what follows a look too', () => {
  const due = { day: NOW + 50 };
  const parts = (more: Partial<ToldPoint>): unknown =>
    items({ points: [point('belt', { verdict: 'renew', due, ...more })] })[0]!.money;
  expect(parts({})).toMatchObject({ parts: 80 });
  expect(parts({ usualPrice: 44 })).toMatchObject({ parts: 80 });
  expect(parts({ partPrice: null, usualPrice: 44 })).toMatchObject({ parts: 44 });
  expect(parts({ partPrice: null, usualPrice: null })).toMatchObject({ parts: 0 });
  const untold = { look, partPrice: null, usualPrice: 44 };
  const looked = proposalGround(told({ points: [point('belt', { ...untold, verdict: 'look', due })] }), {
    months: 36,
    policy,
  });
  // 99 minutes at 60 an hour, and the part.
  expect(ifFoundWorn(looked, looked.items[0]!, 0)!.cost).toBeCloseTo(99 + 44, 9);
  expect(ifFoundWorn(looked, { ...looked.items[0]!, money: parts({}) as never }, 0)).toBeNull();
});

describe('upkeep', () => {
  const tasks = (more: Partial<ToldTask> = {}, vehicle: Partial<ToldVehicle> = {}) =>
    items({ points: [], tasks: [task(more)], ...vehicle });

  test('comes again and again over the months, each time by its day and not much before it', () => {
    const all = tasks();
    expect(all.map(({ key, dueDay }) => [key, dueDay])).toEqual([
      [taskKey('oil'), NOW + 100],
      [taskKey('oil', 2), NOW + 465],
      [taskKey('oil', 3), NOW + 830],
    ]);
    expect(all[1]!.notBeforeDay).toBeCloseTo(NOW + 465 - 365 / 2, 9);
  });

  test('what is overdue is due now, and again an interval after now', () => {
    expect(
      tasks({ standing: 'overdue', due: { day: NOW - 65 }, lastDay: NOW - 430 }).map(({ dueDay }) => dueDay),
    ).toEqual([NOW - 65, NOW + 365, NOW + 730, NOW + 1095]);
  });

  test('by distance where that comes first and nobody knows when it was done', () => {
    const interval = [
      { clock: 'distance' as const, from: 10_000, to: 10_000 },
      { clock: 'age' as const, from: 365, to: 365 },
    ];
    const statements = [{ authority: 'book', interval }];
    // 10,000 km at 50 km a day are 200 days.
    expect(tasks({ lastDay: null, statements })[1]!.dueDay).toBe(NOW + 300);
  });

  test('the owner does it himself: only what is due by now is planned, and once', () => {
    expect(tasks({ ownerCan: true })).toHaveLength(1);
    expect(tasks({ ownerCan: true, standing: 'later' })).toEqual([]);
  });

  test('what nobody knows of is done by the next service, or soon after a purchase; its neglect counts from now', () => {
    const unknown = { standing: 'unknown' as const, due: null, lastDay: null };
    const [first, second] = tasks(unknown);
    expect(first).toMatchObject({ dueDay: NOW + 365, notBeforeDay: null, money: { dueMonth: 0 } });
    expect(second).toMatchObject({ dueDay: NOW + 730, money: { dueMonth: 730 / 30.4375 } });
    expect(tasks(unknown, { isBought: true })[0]!.dueDay).toBe(NOW + 30);
    expect(tasks({ ...unknown, ownerCan: true }, { isBought: true })).toEqual([]);
    expect(tasks({ ...unknown, standing: 'later' }, { isBought: true })).toEqual([]);
    expect(tasks({ ...unknown, standing: 'no_interval' })).toEqual([]);
  });

  describe('what falls due next to an oil change', () => {
    const all = (more: Partial<ToldTask>, oil: Partial<ToldTask> = {}) =>
      items({ points: [], tasks: [task(oil), task({ taskId: 'air', kind: 'renew', ...more })] });
    const air = (due: number, more: Partial<ToldTask> = {}, oil: Partial<ToldTask> = {}) =>
      all({ due: { day: NOW + due }, lastDay: NOW + due - 1000, ...more }, oil).find(
        ({ key }) => key === taskKey('air'),
      )!;
    test('within 15 % of its own interval, before or after, is done with it', () => {
      for (const due of [100 - 150, 100 + 150])
        expect(air(due)).toMatchObject({ dueDay: NOW + 100, goesWith: taskKey('oil') });
      for (const due of [100 - 151, 100 + 151]) expect(air(due)).toMatchObject({ dueDay: NOW + due, goesWith: null });
      // The nearest of the oil changes, and never kept from it by a day of its own.
      expect(air(400)).toMatchObject({ dueDay: NOW + 465, goesWith: taskKey('oil', 2) });
      expect(air(250).notBeforeDay).toBeLessThanOrEqual(NOW + 100);
    });
    test('not what has its season, nor beside what the owner does himself; the most frequent fluid is the oil', () => {
      expect(air(120, { season: 'spring' })).toMatchObject({ dueDay: NOW + 120, goesWith: null });
      expect(air(120, {}, { ownerCan: true })).toMatchObject({ goesWith: null });
      expect(air(120, {}, { kind: 'look' })).toMatchObject({ goesWith: null });
      const rare = { taskId: 'gears', lastDay: NOW - 900 };
      const three = items({ points: [], tasks: [task(rare), task({ due: { day: NOW + 130 } })] });
      expect(three[0]).toMatchObject({ key: taskKey('gears'), dueDay: NOW + 130, goesWith: taskKey('oil') });
    });
  });

  test('counted from when it was last done; by the interval of whoever it is due by; not more often than monthly', () => {
    const years = (told: number) => [{ clock: 'age' as const, from: told * 365, to: told * 365 }];
    const statements = [
      { authority: 'letter', interval: years(1) },
      { authority: 'book', interval: years(2) },
    ];
    // 400 days lie between the last time and the next, whatever anybody says.
    expect(tasks({ lastDay: NOW - 300, statements })[1]!.dueDay).toBe(NOW + 500);
    expect(tasks({ lastDay: null, statements })[1]!.dueDay).toBe(NOW + 830);
    expect(tasks({ lastDay: null, by: 'letter', statements })[1]!.dueDay).toBe(NOW + 465);
    expect(tasks({ lastDay: null, by: null })).toHaveLength(1);
    expect(tasks({ lastDay: NOW + 80 })).toHaveLength(1);
    const hours = [{ authority: 'book', interval: [{ clock: 'hours' as const, from: 500, to: 500 }] }];
    expect(tasks({ lastDay: null, statements: hours })).toHaveLength(1);
    const parked = [{ authority: 'book', interval: [{ clock: 'distance' as const, from: 500, to: 500 }] }];
    expect(tasks({ lastDay: null, statements: parked }, { rateKmPerDay: 0 })).toHaveLength(1);
    // Once a month is not too often.
    expect(tasks({ lastDay: NOW + 100 - 30.4375, due: { day: NOW + 100 } }).length).toBeGreaterThan(1);
    expect(tasks({ lastDay: NOW + 100 - 30.4, due: { day: NOW + 100 } })).toHaveLength(1);
    // Six times and no more.
    expect(tasks({ lastDay: NOW + 30, due: { day: NOW + 100 } })).toHaveLength(6);
  });

  test('is told with its months, its minutes, and no access', () => {
    expect(tasks()[0]).toMatchObject({
      operations: [],
      ownMinutes: 35,
      aloneMinutes: 35,
      isCooling: false,
      isInspected: false,
      before: null,
      money: { kind: 'task', dueMonth: 100 / 30.4375, everyMonths: 365 / 30.4375, protects: [] },
    });
    expect(tasks({ lastDay: null, by: null })[0]).toMatchObject({ notBeforeDay: null, money: { everyMonths: null } });
    // What falls due beyond the months is not planned.
    expect(tasks({ due: { day: NOW + 1095 }, lastDay: null })).toHaveLength(1);
    expect(tasks({ due: { day: NOW + 1096 }, lastDay: null })).toEqual([]);
  });

  test('its neglect wears what it protects', () => {
    const [first] = tasks(
      {
        protects: [
          { weakPointId: 'hose', factor: 1.4 },
          { weakPointId: 'unheard-of', factor: 2 },
        ],
      },
      { points: [point('belt'), point('hose', { consequence: 'leak' })] },
    ).filter(({ money }) => money.kind === 'task');
    expect(first!.money).toMatchObject({ protects: [{ forecast: { weakPointId: 'hose' }, factor: 1.4, failure: 1 }] });
  });
});

test('without being told otherwise a plan has no limits but the months, and cooling goes in before summer', () => {
  const usual = usualTerms(36, { labourCostPerHour: 60, visitOwnerCost: 40 });
  expect(usual).toMatchObject({
    visitCost: 70,
    months: 36,
    keptMonths: null,
    coolingBeforeSummer: true,
    labourPerMinute: 1,
  });
});

test('a key means what it was made of', () => {
  expect([taskKey('a'), taskKey('a', 1), taskKey('a', 2)]).toEqual(['task:a', 'task:a', 'task:a:2']);
  expect(keyMeans(pointKey('a'))).toEqual({ kind: 'point', id: 'a', time: 1 });
  expect(keyMeans(lookKey('a'))).toEqual({ kind: 'look', id: 'a', time: 1 });
  expect(keyMeans(taskKey('a', 3))).toEqual({ kind: 'task', id: 'a', time: 3 });
});
