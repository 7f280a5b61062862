import { searchOn, type TriageSearch } from '@crosspeen/core';
import { randomUUID } from 'node:crypto';
import sharp from 'sharp';
import type { WalkEntryCreate, WalkSynced, WalkView } from '@crosspeen/contract';
import { drain, type QueueStore, type QueueTransport, type Sent, type Waiting } from '../web/src/offline/queue.ts';
import { signedIn, type ApiBench, type SignedIn } from './api.ts';

/** Items of the walk that is timed. */
const ITEMS = 40;
const ASKS = 60;
const SEARCHES = 200;
const VEHICLES = 5;
const ENTRIES = 200;
const PHOTOS = 20;
const CUTS = 10;

/** A made-up engine with so many weak points to look at, and vehicles of it. */
async function fill({ client, today }: SignedIn): Promise<{ readonly vehicles: string[] }> {
  await client.query(`
    insert into engine_family (
      key, maker_id, code, code_key, name, displacement_l, fuel, aspiration, timing_drive, interference, search_text
    )
    select 'bench-walk', id, 'WK40', 'wk40', 'made-up engine', 2.0, 'petrol', 'turbo', 'chain', true, 'wk40'
    from maker
    order by key
    limit 1
    on conflict do nothing`);
  await client.query(`
    insert into engine_variant (family_id, key, name, produced_from, produced_to, position)
    select id, 'only', 'only variant', '2005-01-01', '2020-12-31', 0
    from engine_family
    where key = 'bench-walk'
    on conflict do nothing`);
  await client.query(`
    insert into weak_point (
      key, family_id, component_id, title, consequence, safety, effect, signs, share, causes, look, renew_minutes,
        applies_to, nature, symptoms, position
    )
    select f.key || '-' || p.r, f.id, p.component_id, p.title, 'engine', p.safety, p.effect, p.signs, p.share,
      p.causes, p.look - 'off', p.renew_minutes, '{}', 'wear', p.symptoms, p.r
    from engine_family f
    join (
      select row_number() over (order by key) as r, *
      from weak_point
      where look is not null and key not like 'bench-%'
    ) p on p.r <= ${ITEMS}
    where f.key = 'bench-walk'
    on conflict do nothing`);
  const { rows } = await client.query<{ id: string }>(
    `insert into vehicle (plate, plate_key, model, family_id, variant_key, first_registered, odometer_unit, search_text)
    select 'WB ' || n, 'wb' || n || '-' || $1, 'Bench', f.id, 'only', '1996-01-01', 'km', 'wb'
    from generate_series(1, ${VEHICLES + 1}) n
    join engine_family f on f.key = 'bench-walk'
    returning id`,
    [randomUUID().slice(0, 8)],
  );
  for (const { id } of rows)
    await client.query(
      `insert into meter_reading (vehicle_id, day, km, user_id)
      values ($1, $2::date - 3, 460000, (select id from app_user order by name limit 1))`,
      [id, today],
    );
  return { vehicles: rows.map(({ id }) => id) };
}

const quantile = (times: readonly number[], at: number): number =>
  [...times].sort((a, b) => a - b)[Math.min(times.length - 1, Math.floor(times.length * at))]!;

const inMemory = (): QueueStore => {
  const kept = new Map<string, Waiting>();
  return {
    all: () => Promise.resolve([...kept.values()]),
    put: (waiting) => Promise.resolve(void kept.set(waiting.id, waiting)),
    remove: (id) => Promise.resolve(void kept.delete(id)),
    replace: (id, waiting) => Promise.resolve(void (kept.delete(id), kept.set(waiting.id, waiting))),
  };
};

/** A line that is cut so many times at random: before the server has heard, or after it has and before it is known. */
function cutting(cuts: number): { readonly line: <T>(work: () => Promise<T>) => Promise<Sent<T>>; left: () => number } {
  let left = cuts;
  return {
    left: () => left,
    line: async (work) => {
      const cut = left > 0 && Math.random() < 0.5;
      if (cut) left -= 1;
      if (cut && Math.random() < 0.5) return { came: 'unreachable' };
      const answer = await work();
      return cut ? { came: 'unreachable' } : { came: 'taken', answer };
    },
  };
}

/**
 * What a walk takes: the sheet of forty items through HTTP; a search reckoned on after an answer; and a queue of
 * entries and photos that is sent over a line which is cut again and again, counted in the database. Answers how much
 * was lost or doubled.
 */
export async function walkBench(bench: ApiBench): Promise<number> {
  const { address, say } = bench;
  let faults = 0;
  await signedIn(bench, async (session) => {
    const { client, headers, today } = session;
    const { vehicles } = await fill(session);
    const [timed, ...others] = vehicles;
    const got = async <T>(path: string): Promise<T> => (await (await fetch(address + path, { headers })).json()) as T;
    const view = await got<WalkView>(`/api/vehicles/${timed}/walk`);
    const times: number[] = [];
    for (let i = 0; i < ASKS; i += 1) {
      const began = performance.now();
      await got(`/api/vehicles/${timed}/walk`);
      times.push(performance.now() - began);
    }
    say(
      `a walk of ${view.steps.length} items       p50 ${quantile(times, 0.5).toFixed(1)} ms, p95 ${quantile(times, 0.95).toFixed(1)} ms`,
    );
    const search = await got<TriageSearch & { vocabulary: { id: string; words: string }[] }>(
      `/api/vehicles/${timed}/triage`,
    );
    for (const { id, words } of search.vocabulary.slice(0, 3))
      await fetch(`${address}/api/vehicles/${timed}/symptoms`, {
        method: 'POST',
        headers: { ...headers, 'content-type': 'application/json' },
        body: JSON.stringify({ symptomId: id, words, day: today }),
      });
    const asked = await got<TriageSearch>(`/api/vehicles/${timed}/triage`);
    const searches: number[] = [];
    for (let i = 0; i < SEARCHES; i += 1) {
      const began = performance.now();
      searchOn(asked);
      searches.push(performance.now() - began);
    }
    say(
      `a search of ${asked.explanations.length} causes, ${asked.checks.length} checks   p50 ${quantile(searches, 0.5).toFixed(1)} ms, p95 ${quantile(searches, 0.95).toFixed(1)} ms`,
    );
    const picture = await sharp({ create: { width: 1200, height: 900, channels: 3, background: '#998877' } })
      .jpeg()
      .toBuffer();
    for (const vehicleId of others) {
      const store = inMemory();
      const walk = { id: randomUUID(), day: today, budgetMinutes: null };
      const keys = (await got<WalkView>(`/api/vehicles/${vehicleId}/walk`)).steps
        .filter(({ kind }) => kind === 'point')
        .map(({ key }) => key);
      const seen = new Map<string, string>();
      for (let i = 0; i < ENTRIES; i += 1) {
        const key = keys[i % keys.length]!;
        const entry: WalkEntryCreate = {
          id: randomUUID(),
          key,
          result: i % 3 === 0 ? 'worn' : 'sound',
          madeAt: new Date().toISOString(),
          seen: seen.get(key) ?? null,
        };
        seen.set(key, entry.id);
        const base = { id: entry.id, seq: i, userId: 'me', userName: 'me', vehicleId, walk, refused: null };
        await store.put({ ...base, kind: 'entry', entry });
        if (i % (ENTRIES / PHOTOS) === 0)
          await store.put({
            ...base,
            kind: 'photo',
            id: randomUUID(),
            key,
            entryId: entry.id,
            day: today,
            picture: new Blob([new Uint8Array(picture)], { type: 'image/jpeg' }),
          });
      }
      const { line, left } = cutting(CUTS);
      const asJson = async <T>(response: Response): Promise<T> => {
        if (!response.ok) throw new Error(`${response.status}: ${await response.text()}`);
        return (await response.json()) as T;
      };
      const transport: QueueTransport = {
        entries: (id, body) =>
          line(async () =>
            asJson<WalkSynced>(
              await fetch(`${address}/api/vehicles/${id}/walk`, {
                method: 'POST',
                headers: { ...headers, 'content-type': 'application/json' },
                body: JSON.stringify(body),
              }),
            ),
          ),
        note: () => Promise.resolve({ came: 'refused', why: 'no notes are sent here' }),
        photo: ({ id, key, entryId, day, picture: body }) =>
          line(async () =>
            asJson(
              await fetch(
                `${address}/api/photos/${id}?vehicleId=${vehicleId}&key=${key}&entryId=${entryId}&day=${day}`,
                { method: 'PUT', headers: { ...headers, 'content-type': 'image/jpeg' }, body },
              ),
            ),
          ),
      };
      const began = performance.now();
      let rounds = 0;
      while ((await drain({ store, transport }, 'me')).ended !== 'done') rounds += 1;
      const seconds = (performance.now() - began) / 1000;
      const { rows } = await client.query<{ entries: string; stand: string; photos: string; findings: string }>(
        `select
          (select count(*) from walk_entry where walk_id = $2) as entries,
          (
            select count(*) from walk_entry e join finding f on f.id = e.finding_id and f.retracted_at is null
            where e.walk_id = $2
          ) as stand,
          (select count(*) from photo where vehicle_id = $1) as photos,
          (select count(*) from finding where vehicle_id = $1 and retracted_at is null) as findings`,
        [vehicleId, walk.id],
      );
      const { entries, stand, photos, findings } = rows[0]!;
      const wrong =
        Math.abs(Number(entries) - ENTRIES) +
        Math.abs(Number(photos) - PHOTOS) +
        Math.abs(Number(findings) - keys.length) +
        Math.abs(Number(stand) - keys.length) +
        (await store.all()).length;
      faults += wrong;
      say(
        `${CUTS - left()} cuts, ${rounds + 1} rounds: ${entries} entries of ${ENTRIES}, ${photos} photos of ${PHOTOS}, ${findings} findings for ${keys.length} items, ${wrong} lost or doubled, ${seconds.toFixed(1)} s`,
      );
    }
  });
  say(`lost or doubled in all: ${faults}`);
  return faults;
}
