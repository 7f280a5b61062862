import { type AnswerRow, answerRows, type LookupAnswer, queryText, type VehicleOutlook } from '@crosspeen/contract';
import { type APIRequestContext, type APIResponse, expect } from '@playwright/test';
import { signIn, test as journey } from './journey.ts';

/**
 * What nobody in the trade would dispute, asked of the answer that every screen reads, on the demo's own engines and
 * fleet; the words that a screen makes of it are tried in `commonsense.spec.ts`.
 */
class Desk {
  constructor(private readonly request: APIRequestContext) {}

  async lookUp(line: string, know = '') {
    const response = await this.request.get(`/api/lookup${queryText({ line, know })}`);
    const { answer, reported } = (await response.json()) as LookupAnswer;
    return { answer: answer!, reported, rows: answerRows(answer!) };
  }

  async outlook(id: string): Promise<VehicleOutlook> {
    return (await (await this.request.get(`/api/vehicles/${id}/outlook`)).json()) as VehicleOutlook;
  }

  async send(path: string, data: object): Promise<APIResponse> {
    const { csrfToken } = (await (await this.request.get('/api/session')).json()) as { csrfToken: string };
    return this.request.post(path, { data, headers: { 'x-csrf-token': csrfToken } });
  }

  /** Saves a machine on hours of an engine; answers its id. */
  async saveMachine(code: string, told: object): Promise<string> {
    const { answer } = await this.lookUp(`${code} 3000 h`);
    const response = await this.send('/api/vehicles', {
      plate: `CS ${code}`,
      name: null,
      model: null,
      familyId: answer.engine.familyId,
      variantKey: null,
      odometerUnit: 'h',
      severity: 1,
      note: null,
      ...told,
    });
    expect(response.status()).toBe(200);
    return ((await response.json()) as { id: string }).id;
  }
}

const test = journey.extend<{ desk: Desk }>({
  desk: async ({ page }, use) => {
    await signIn(page, 'Mechanic', 'elsewhere');
    await use(new Desk(page.request));
  },
});
const row = (rows: readonly AnswerRow[], title: string): AnswerRow => {
  const found = rows.find((candidate) => candidate.title.startsWith(title));
  if (!found) throw new Error(`no row “${title}”`);
  return found;
};
const BELT = 'Timing belt breaks or strips';

test('the belt it was built with, 20 years old, valves that hit the pistons: renewed or held, likelier every year', async ({
  desk,
}) => {
  let before = 0;
  for (const line of ['QV16B 190k 2010', 'QV16B 220k 2008', 'QV16B 250k 2006']) {
    const { verdict, chance } = row((await desk.lookUp(line, 'history:vl-belt=never')).rows, BELT);
    expect(['renew', 'hold']).toContain(verdict);
    expect(chance).toBeGreaterThan(before);
    before = chance;
  }
  expect(before).toBeGreaterThan(0.4);
});

test('the belt of valves that clear the pistons: it stops on the road, and the engine lives', async ({ desk }) => {
  const { answer, rows } = await desk.lookUp('K425N 230k 2004', 'history:k4-belt=never');
  const belt = row(rows, 'Timing belt breaks');
  expect(belt.verdict).toBe('renew');
  expect(belt.consequence).toBe('stranded');
  expect(belt.damages.map(({ harms }) => harms)).not.toContainEqual(expect.stringMatching(/valve/i));
  expect(answer.engine.interference).toBe(false);
});

test('a chain of which nobody knows, no noise: listen and measure before anybody opens it', async ({ desk }) => {
  const { rows } = await desk.lookUp('QV20T 148k 2013');
  expect(row(rows, 'Chain tensioner slackens').verdict).toBe('look');
  expect(['renew', 'hold']).not.toContain(row(rows, 'Timing chain stretched').verdict);
});

test('a fault that only early ones were built with, 300,000 km, never showed: behind it, with the check that rules it out', async ({
  desk,
}) => {
  const { rows } = await desk.lookUp('OD420K 300k 2012', 'history:od-egr-cooler=never');
  const faded = row(rows, 'EGR cooler');
  expect(faded.verdict).toBe('behind_it');
  expect(faded.look?.how).toMatch(/^Cold: press the cooling system up/);
});

test('a hose older than its years, little distance: age alone is enough', async ({ desk }) => {
  const { rows } = await desk.lookUp('QV09S 30k 2008', 'history:qv09s-hose-part=never');
  expect(['look', 'renew', 'hold']).toContain(row(rows, 'Upper coolant hose').verdict);
});

test('a core blown out in May is due next spring; mounts looked at today are due by hours or years, and not renewed', async ({
  desk,
}) => {
  const id = await desk.saveMachine('BR36M', {
    firstRegistered: '2022-06-15',
    reading: { day: '2026-11-24', km: 3000 * 40 },
  });
  const tasks = (await desk.outlook(id)).answer.upkeep;
  const task = (title: string) => tasks.find((one) => one.title.startsWith(title))!;
  const done = (title: string, day: string) =>
    desk.send(`/api/vehicles/${id}/upkeep`, {
      taskId: task(title).taskId,
      day,
      km: null,
      certainty: 'done',
      note: null,
    });
  expect((await done('Engine mounts', '2026-11-24')).status()).toBe(200);
  expect((await done('Cooler core blown out', '2026-05-12')).status()).toBe(200);
  const after = (await desk.outlook(id)).answer;
  const due = (title: string): string => {
    const { day } = after.upkeep.find((one) => one.title.startsWith(title))!.due!;
    return new Date(Math.round(day) * 86_400_000).toISOString().slice(0, 10);
  };
  expect(due('Cooler core blown out')).toMatch(/^2027-0[345]/);
  expect(due('Engine mounts') <= '2028-11-25').toBe(true);
  expect(due('Engine mounts') > '2026-12-01').toBe(true);
});

test('5,000 km, one year old: upkeep by the book, nothing else', async ({ desk }) => {
  const { answer, rows } = await desk.lookUp('QV20T 5k 2026');
  expect(rows.filter(({ verdict, safety }) => ['renew', 'hold'].includes(verdict) && !safety)).toEqual([]);
  const oil = answer.upkeep.find(({ title }) => title.startsWith('Engine oil and filter'))!;
  expect(oil.due!.day).toBeGreaterThan(answer.today);
});

test('a seal of the brake vacuum, a fuel hose: looked at, never left to run on', async ({ desk }) => {
  expect(['look', 'renew']).toContain(
    row((await desk.lookUp('QV20T 180k 2012')).rows, 'Vacuum pump seal leaks').verdict,
  );
  expect(['look', 'renew']).toContain(row((await desk.lookUp('K630C 180k 2012')).rows, 'Fuel return hoses').verdict);
});

test('uses oil, runs well, 200,000 km: the driver watches it and tops up, and how often is said', async ({ desk }) => {
  const rings = row((await desk.lookUp('QV20T 290k 2010')).rows, 'Oil rings stick; it uses oil');
  expect(rings.verdict).toBe('watch');
  expect(rings.watch?.task).toContain('Check the oil level on level ground');
  expect(rings.watch?.every).toContainEqual(expect.objectContaining({ clock: 'distance', from: 1000 }));
});

test('a rattle that stops when a hand rests on the linkage is the linkage, not the chain', async ({ desk }) => {
  const { reported } = await desk.lookUp('QV20T 120k 2014 rattle lift-off');
  expect(reported).toHaveLength(1);
  expect(reported[0]).toMatchObject({
    words: 'Rattle on lift-off',
    tells: expect.stringContaining('it stops when a hand rests on the linkage'),
  });
  expect(reported[0]!.shownBy.map(({ title }) => title)).toEqual([expect.stringContaining('Wastegate')]);
});

test('coolant at one joint: look into the connector beside it too', async ({ desk }) => {
  const flange = row((await desk.lookUp('QV20T 148k 2013')).rows, 'Coolant flange warps');
  expect(JSON.stringify(flange)).toContain('look into the one beside it too');
});

test('what only early ones had does not apply to this one, built later, and why is said', async ({ desk }) => {
  const { answer } = await desk.lookUp('QV20T 90k 2018');
  expect(answer.excluded.find(({ title }) => title.startsWith('Chain tensioner slackens'))?.because).toContain(
    'this variant is not affected',
  );
});

test('a machine that was parked for a year: its hours stand still, its rubber does not', async ({ desk }) => {
  const id = await desk.saveMachine('BR36M', {
    firstRegistered: '2018-06-15',
    reading: { day: '2025-11-24', km: 3000 * 40 },
  });
  const hose = async (): Promise<{ chance: number; ratePerYear: number }> => {
    const { answer } = await desk.outlook(id);
    const { chance } = row(answerRows(answer), 'Upper coolant hose');
    return { chance, ratePerYear: (answer.usage.rateKmPerDay * 365.25) / 40 };
  };
  const before = await hose();
  await desk.send(`/api/vehicles/${id}/readings`, { day: '2026-11-24', km: 3000 * 40 });
  const after = await hose();
  expect(after.ratePerYear).toBeLessThan(before.ratePerYear / 1.5);
  expect(after.chance).toBeGreaterThan(0.005);
});
