import { answerRows, type FleetProgress, type VehicleOutlook } from '@crosspeen/contract';
import { asksForWork, dayFromIso } from '@crosspeen/core';
import { testApp, type Client, type TestApp } from '../testing/harness.ts';
import { BATCH, JudgingService, type JudgeBatch } from './judging.ts';

let t: TestApp;
let owner: Client;
const ids: string[] = [];
beforeAll(async () => {
  t = await testApp();
  owner = await t.signIn('ruta');
  for (const [i, code] of (['QV20T', 'QV16B', 'OD420K', 'DN12W', 'K425N'] as const).entries())
    ids.push(
      await t.saveVehicle(owner, { plate: `RO ${i}`, code, km: 60_000 + 40_000 * i, firstRegistered: '2013-05-01' }),
    );
  await t.services.judging.run('test');
});
afterAll(() => t.close());

const TODAY = dayFromIso('2026-11-24')!;
const progress = async (): Promise<FleetProgress> => (await owner.get('/api/fleet')).json();
const behind = () => t.services.source.query("update vehicle_standing set as_of = '2026-01-01'");

describe('what stands of a vehicle', () => {
  interface Standing {
    readonly title: string | null;
    readonly verdict: string | null;
    readonly chance: number | null;
    readonly if_first: number | null;
    readonly due_day: string | null;
    readonly due_km: number | null;
    readonly others: number;
    readonly km: number;
    readonly km_per_day: number;
    readonly upkeep_overdue: number;
    readonly upkeep_title: string | null;
    readonly upkeep_due: string | null;
  }
  test('is what its own page says', async () => {
    for (const id of ids) {
      const [standing] = await t.services.source.query<[Standing]>(
        'select * from vehicle_standing where vehicle_id = $1',
        [id],
      );
      const { answer } = (await owner.get(`/api/vehicles/${id}/outlook`)).json<VehicleOutlook>();
      const rows = answerRows(answer);
      const worst = rows.find(({ verdict }) => verdict !== 'behind_it')!;
      expect(standing).toMatchObject({
        title: worst.title,
        verdict: worst.verdict,
        chance: worst.chance,
        others: Math.max(0, rows.filter(({ verdict }) => asksForWork(verdict)).length - 1),
      });
      expect(standing.if_first).toEqual(worst.unproved);
      const due = worst.due !== null && worst.due.day <= TODAY + 3 * 365.25 ? worst.due : null;
      expect(standing.due_km).toEqual(due === null ? null : (expect.closeTo(due.km, 6) as number));
      expect(standing.due_day === null ? null : dayFromIso(standing.due_day)).toEqual(due && Math.floor(due.day));
      expect(standing.km).toBeCloseTo(answer.now.km, 6);
      expect(standing.km_per_day).toBeCloseTo(answer.usage.rateKmPerDay, 9);
      const asked = answer.upkeep.filter((task) => task.standing === 'overdue' || task.standing === 'due');
      expect(standing).toMatchObject({
        upkeep_overdue: answer.upkeep.filter((task) => task.standing === 'overdue').length,
        upkeep_title: asked[0]?.title ?? null,
      });
      expect(standing.upkeep_due === null ? null : dayFromIso(standing.upkeep_due)).toEqual(
        asked[0]?.due ? Math.floor(asked[0].due.day) : null,
      );
    }
  });
});

describe('a round', () => {
  const started = (judge: JudgeBatch, threads = 1): JudgingService =>
    new JudgingService({
      source: t.services.source,
      library: undefined as never,
      settings: t.services.settings,
      experience: { catchUp: () => Promise.resolve() } as never,
      clock: t.services.clock,
      hands: { threads, judge },
    });
  const asked: Parameters<JudgeBatch>[0][] = [];
  beforeEach(async () => {
    asked.length = 0;
    await behind();
    await t.services.source.query("update fleet_run set state = 'done' where state = 'running'");
  });
  const batches = (...counts: readonly number[]): JudgeBatch => {
    const left = [...counts];
    return (task) => {
      asked.push(task);
      return Promise.resolve({ count: left.shift() ?? 0, last: `00000000-0000-0000-0000-00000000000${asked.length}` });
    };
  };

  test('asks for batch after batch, each after the last of the one before, until there is none', async () => {
    await started(batches(2, 1)).run('in batches');
    const none = '00000000-0000-0000-0000-000000000000';
    expect(asked).toEqual([
      { today: TODAY, size: BATCH, after: none },
      { today: TODAY, size: BATCH, after: none.replace(/0$/, '1') },
      { today: TODAY, size: BATCH, after: none.replace(/0$/, '2') },
    ]);
    expect((await progress()).run).toMatchObject({ reason: 'in batches', state: 'done', total: 5, done: 5 });
  });

  test('counts on as it goes, and never beyond what there was', async () => {
    const seen: number[] = [];
    const judging = started(async (task) => {
      asked.push(task);
      seen.push((await progress()).run!.done);
      return { count: asked.length <= 2 ? 4 : 0, last: task.after };
    });
    await judging.run('counted');
    expect(seen).toEqual([0, 4, 5]);
  });

  test('goes on in as many lanes as there are hands', async () => {
    await started(batches(), 3).run('three lanes');
    expect(asked).toHaveLength(3);
  });

  test('that somebody stops ends after the batch under way, and keeps what was done', async () => {
    const judging = started(async (task) => {
      asked.push(task);
      if (asked.length === 2) await judging.stop();
      return { count: 1, last: task.after };
    });
    await judging.run('stopped');
    expect(asked).toHaveLength(2);
    expect((await progress()).run).toMatchObject({ reason: 'stopped', state: 'stopped', done: 2 });
    expect((await progress()).run!.finishedAt).not.toBeNull();
    expect((await progress()).stale).toBe(5);
  });

  test('of a process that ends stays open for the next', async () => {
    const judging = started((task) => {
      asked.push(task);
      void judging.close();
      return Promise.resolve({ count: 1, last: task.after });
    });
    await judging.run('cut off');
    expect(asked).toHaveLength(1);
    expect((await progress()).run).toMatchObject({ reason: 'cut off', state: 'running', done: 1 });
    expect((await progress()).stale).toBe(4);
    await judging.run('too late');
    expect(asked).toHaveLength(1);
    await started(batches(3)).run('the next');
    expect((await progress()).run).toMatchObject({ reason: 'cut off', state: 'done', done: 6 });
  });

  test('that is taken over counts what is behind now', async () => {
    await t.services.source.query(
      "insert into fleet_run (reason, state, total, done) values ('long', 'running', 900, 2)",
    );
    const seen: object[] = [];
    const judging = started(async (task) => {
      asked.push(task);
      seen.push((await progress()).run!);
      return { count: asked.length === 1 ? 5 : 0, last: task.after };
    });
    await judging.run('the next');
    expect(seen[0]).toMatchObject({ reason: 'long', total: 7, done: 2 });
    expect((await progress()).run).toMatchObject({ reason: 'long', state: 'done', total: 7, done: 7 });
  });

  test('gives way to what is more pressing, and says how far it came', async () => {
    let busy = false;
    const judging = started((task) => {
      asked.push(task);
      busy = asked.length === 2;
      return Promise.resolve({ count: asked.length > 2 ? 0 : 1, last: task.after });
    });
    judging.giveWayTo(() => busy);
    await judging.run('gave way');
    expect(asked).toHaveLength(2);
    expect((await progress()).run).toMatchObject({ reason: 'gave way', state: 'done', done: 2 });
    await judging.run('still busy');
    expect(asked).toHaveLength(2);
    busy = false;
    await judging.run('free again');
    expect((await progress()).run).toMatchObject({ reason: 'free again' });
  });

  test('that is asked for while one runs follows it, once', async () => {
    let free = (): void => undefined;
    const held = new Promise<void>((letGo) => {
      free = letGo;
    });
    const judging = started(async (task) => {
      asked.push(task);
      await held;
      return { count: 0, last: task.after };
    });
    const all = [judging.run('first'), judging.run('second'), judging.run('third')];
    free();
    await Promise.all(all);
    await judging.idle();
    expect(asked).toHaveLength(2);
    const runs = await t.services.source.query<{ reason: string }[]>(
      'select reason from fleet_run order by started_at desc limit 2',
    );
    expect(runs.map(({ reason }) => reason)).toEqual(['third', 'first']);
  });

  test('that fails is closed, and the next begins anew', async () => {
    const judging = started(() => Promise.reject(new Error('broke')));
    await expect(judging.run('broken')).rejects.toThrow('broke');
    expect((await progress()).run).toMatchObject({ reason: 'broken', state: 'done' });
    await started(batches(6)).run('anew');
    expect((await progress()).run).toMatchObject({ reason: 'anew', state: 'done' });
  });

  test('of every minute is left out today once somebody stopped one, not on another day', async () => {
    const judging = started(batches());
    await t.services.source.query(
      "insert into fleet_run (reason, state, total, finished_at) values ('stopped', 'stopped', 1, clock_timestamp())",
    );
    await judging.sweep();
    expect(asked).toHaveLength(0);
    // Another round in between, after a finding, does not bring it back either.
    await t.services.source.query(
      "insert into fleet_run (reason, state, total, finished_at) values ('a new finding', 'done', 1, clock_timestamp())",
    );
    await judging.sweep();
    expect(asked).toHaveLength(0);
    await t.services.source.query("update fleet_run set finished_at = finished_at - interval '1 day'");
    await judging.sweep();
    expect(asked).toHaveLength(1);
    expect((await progress()).run).toMatchObject({ reason: 'a new day' });
  });
});
