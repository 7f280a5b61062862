import type { Answer, LookupAnswer, WalkView } from '@crosspeen/contract';
import { parseSpans, SHARE_BY_WORD, type ShareWord, type Span } from '@crosspeen/core';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { testApp, type Client, type TestApp } from '../testing/harness.ts';

/** A pack as it is written by hand: what reaches a screen is held against these words, not against what was loaded. */
interface Told {
  readonly authorities: readonly { key: string; name: string }[];
  readonly components: readonly {
    key: string;
    name: string;
    class: string;
    group: string;
    parts?: { grade?: string; priceMinor?: number }[];
  }[];
  readonly symptoms: readonly { key: string; words: string; codes?: string[]; tells?: string; stop?: string }[];
  readonly cautions: readonly { key: string; words: string }[];
  readonly tools: readonly { key: string; name: string; without: string }[];
  readonly families: readonly {
    code: string;
    operations: readonly {
      key: string;
      tools?: string[];
      cautions?: string[];
      needs?: string[];
      oneTime?: string[];
      fluids?: string[];
      afterwards?: string[];
    }[];
    weakPoints: readonly TellsPoint[];
    upkeep?: readonly TellsTask[];
  }[];
}
interface Says {
  readonly authority: string;
  readonly words: string;
  readonly edition?: string;
  readonly interval?: string;
  readonly asks?: string;
  readonly doubted?: boolean;
  readonly always?: boolean;
  readonly strength?: string;
}
interface TellsPoint {
  readonly key: string;
  readonly component: string;
  readonly title: string;
  readonly consequence: string;
  readonly safety?: boolean;
  readonly effect: string;
  readonly signs: string;
  readonly share: ShareWord;
  readonly nature?: string;
  readonly causes: readonly string[];
  readonly renewMinutes: number;
  readonly retiredByRevision?: string;
  readonly statements: readonly Says[];
  readonly operation?: string;
  readonly symptoms?: readonly { symptom: string; shows: number }[];
  readonly damages?: readonly { harms?: string; weakPoint?: string; chance: number }[];
  readonly failure?: { partsMinor: number; minutes: number };
  readonly hastens?: readonly object[];
  readonly watch?: { task: string; every: string };
  readonly look?: {
    how: string;
    minutes: number;
    detects: number;
    warns: string;
    place: string;
    method: string;
    spot: string;
    good: string;
    worn: string;
    failed: string;
    cautions?: string[];
    tools?: string[];
    measure?: { sense: readonly number[] };
    grades?: readonly object[];
  };
}
interface TellsTask {
  readonly title: string;
  readonly kind: string;
  readonly how: string;
  readonly minutes: number;
  readonly ownerCan?: boolean;
  readonly season?: string;
  readonly cautions?: string[];
  readonly protects?: readonly { weakPoint: string; factor: number }[];
  readonly statements: readonly Says[];
}

const told = JSON.parse(readFileSync(join(import.meta.dirname, '../../../demo/packs/harbour.json'), 'utf8')) as Told;
const names = (list: readonly { key: string }[], word: string) => (key: string) =>
  (list.find((one) => one.key === key) as Record<string, unknown> | undefined)![word];
const authority = names(told.authorities, 'name');
const caution = names(told.cautions, 'words');
const toolName = names(told.tools, 'name');
/** What stands beside each other in an order of the library's own. */
const anyOrder = (list: readonly unknown[]): unknown => {
  const wanted: unknown = expect.arrayContaining([...list]);
  return list.length === 0 ? [] : wanted;
};
const spans = (text: string): readonly Span[] => (parseSpans(text) as { value: readonly Span[] }).value;
const said = ({ authority: who, words, edition, interval, asks, doubted, always, strength }: Says) => ({
  authority: authority(who),
  words,
  edition: edition ?? null,
  asks: asks ?? 'renew',
  doubted: doubted === true,
  always: always === true,
  strength: strength ?? null,
  interval: interval === undefined ? [] : spans(interval),
});

let t: TestApp;
let client: Client;
const answers = new Map<string, Answer>();
beforeAll(async () => {
  t = await testApp();
  client = await t.signIn('tove');
  // Two years of each engine, so that every variant is there.
  for (const { code } of told.families)
    for (const year of [2008, 2013, 2016]) {
      const line = encodeURIComponent(`${code} ${code === 'K630C' ? '4000 h' : '120k'} ${year}`);
      const { answer } = (await client.get(`/api/lookup?line=${line}`)).json<LookupAnswer>();
      if (answer !== null) answers.set(`${code} ${year}`, answer);
    }
});
afterAll(() => t.close());

const points = told.families.flatMap(({ code, operations, weakPoints }) =>
  weakPoints.map((point) => ({ code, operations, point, title: point.title })),
);
const found = (code: string, key: string) =>
  [...answers].flatMap(([name, { points: list }]) =>
    name.startsWith(code) ? list.filter((point) => point.key === key) : [],
  )[0];

test('every weak point of the pack is answered for some year', () =>
  expect(
    points.filter(({ code, point }) => found(code, point.key) === undefined).map(({ point }) => point.key),
  ).toEqual([]));

test.each(points)('$code, $title: what it is, how it shows and what it harms', ({ code, point }) => {
  const answered = found(code, point.key)!;
  const component = told.components.find(({ key }) => key === point.component)!;
  expect(answered).toMatchObject({
    title: point.title,
    component: component.name,
    componentKey: component.key,
    componentClass: component.class,
    group: component.group,
    nature: point.nature ?? 'wear',
    consequence: point.consequence,
    safety: point.safety === true,
    effect: point.effect,
    signs: point.signs,
    share: SHARE_BY_WORD[point.share],
    causes: point.causes.map(spans),
    renewMinutes: point.renewMinutes,
    retiredByRevision: point.retiredByRevision ?? null,
    failure: point.failure ? { parts: point.failure.partsMinor, minutes: point.failure.minutes } : null,
    watch: point.watch ? { task: point.watch.task, every: spans(point.watch.every) } : null,
  });
  expect(answered.statements).toMatchObject(point.statements.map(said));
  expect(answered.symptoms).toEqual(
    (point.symptoms ?? []).map(({ symptom, shows }) => {
      const { words, codes, tells, stop } = told.symptoms.find(({ key }) => key === symptom)!;
      return { symptom, shows, words, codes: codes ?? [], tells: tells ?? null, stop: stop ?? null };
    }),
  );
  expect(answered.damages.map(({ chance }) => chance)).toEqual((point.damages ?? []).map(({ chance }) => chance));
  for (const [i, { harms, weakPoint }] of (point.damages ?? []).entries())
    expect(answered.damages[i]!.harms).toBe(
      weakPoint === undefined ? harms : points.find(({ point: { key } }) => key === weakPoint)!.title,
    );
  expect(answered.hastens).toMatchObject(point.hastens ?? []);
});

test('a part whose price nobody tells is counted at the median of its class; one that is told at its own', () => {
  const originals = ({ parts }: Told['components'][number]): number[] =>
    (parts ?? []).flatMap(({ grade, priceMinor }) =>
      (grade ?? 'original') === 'original' && priceMinor !== undefined ? [priceMinor] : [],
    );
  const untold = points.filter(({ code, point }) => found(code, point.key)!.partPrice === null);
  expect(untold.length).toBeGreaterThan(0);
  for (const { code, point } of untold) {
    const { componentClass, usualPrice } = found(code, point.key)!;
    const prices = told.components
      .filter((component) => component.class === componentClass)
      .flatMap(originals)
      .sort((a, b) => a - b);
    expect(usualPrice).toBe(prices[Math.ceil(prices.length / 2) - 1] ?? null);
  }
  for (const { code, point } of points) {
    const { partPrice, usualPrice, componentKey } = found(code, point.key)!;
    if (partPrice === null) continue;
    expect(usualPrice).toBeNull();
    expect(partPrice).toBe(Math.min(...originals(told.components.find(({ key }) => key === componentKey)!)));
  }
});

test.each(points.filter(({ point }) => point.look))('$code, $title: how it is looked at', ({ code, point }) => {
  const { warns, detects, cautions, tools, measure, grades, minutes, how, place, method, spot, good, worn, failed } =
    point.look!;
  expect(found(code, point.key)!.look).toMatchObject({
    ...{ how, minutes, place, method, spot, good, worn, failed },
    detection: detects,
    warning: spans(warns),
    cautions: anyOrder((cautions ?? []).map(caution)),
    ...(tools ? { tools: anyOrder(tools.map(toolName)) } : {}),
    ...(measure ? { measure } : {}),
    ...(grades ? { grades } : {}),
  });
  const { look } = found(code, point.key)!;
  expect([look!.cautions.length, look!.tools?.length ?? 0]).toEqual([cautions?.length ?? 0, tools?.length ?? 0]);
});

test.each(points.filter(({ point }) => point.operation))(
  '$code, $title: what its work takes, with all that gives access',
  ({ code, operations, point }) => {
    const { work } = found(code, point.key)!;
    const all = new Set<string>();
    const take = (key: string): void => {
      if (all.has(key)) return;
      all.add(key);
      (operations.find((one) => one.key === key)!.needs ?? []).forEach(take);
    };
    take(point.operation!);
    const whole = operations.filter(({ key }) => all.has(key));
    const gathered = (of: (one: (typeof whole)[number]) => readonly unknown[] | undefined): unknown[] =>
      [...new Set(whole.flatMap((one) => of(one) ?? []))].sort();
    expect([...work!.cautions].sort()).toEqual(gathered(({ cautions }) => cautions?.map(caution)));
    expect(work!.tools.map(({ name }) => name).sort()).toEqual(gathered(({ tools }) => tools?.map(toolName)));
    expect([...work!.fluids].sort()).toEqual(gathered(({ fluids }) => fluids));
    expect([...work!.afterwards].sort()).toEqual(gathered(({ afterwards }) => afterwards));
  },
);

const tasks = told.families.flatMap(({ code, upkeep }) =>
  (upkeep ?? []).map((task) => ({ code, task, title: task.title })),
);
test.each(tasks)('$code, $title: upkeep as it is told', ({ code, task }) => {
  const rows = [...answers].flatMap(([name, { upkeep }]) => (name.startsWith(code) ? upkeep : []));
  const row = rows.find(({ title }) => title === task.title)!;
  expect(row).toMatchObject({
    kind: task.kind,
    how: task.how,
    minutes: task.minutes,
    ownerCan: task.ownerCan === true,
    season: task.season ?? null,
    cautions: anyOrder((task.cautions ?? []).map(caution)),
    statements: task.statements.map(said),
  });
  expect(row.cautions).toHaveLength((task.cautions ?? []).length);
  // In one year or another each weak point that it protects is answered, with its factor.
  const protects = rows.filter(({ title }) => title === task.title).flatMap((one) => one.protects);
  const keyed = protects.map(({ title, factor }) => [
    points.find((one) => one.code === code && one.title === title)!.point.key,
    factor,
  ]);
  const told = new Map((task.protects ?? []).map(({ weakPoint, factor }) => [weakPoint, factor]));
  expect(new Map(keyed as [string, number][])).toEqual(told);
});

test('a walk asks in the same words', async () => {
  for (const { code } of told.families) {
    const line = encodeURIComponent(`${code} ${code === 'K630C' ? '4000 h' : '160k'} 2013`);
    const { steps } = (await client.get(`/api/lookup/walk?line=${line}`)).json<WalkView>();
    expect(steps.length).toBeGreaterThan(0);
    for (const step of steps) {
      if (step.kind === 'task') {
        const { task } = tasks.find((one) => one.code === code && one.title === step.title)!;
        expect(step).toMatchObject({
          how: task.how,
          upkeepKind: task.kind,
          method: task.kind === 'measure' ? 'measure' : null,
          cautions: anyOrder((task.cautions ?? []).map(caution)),
          tools: [],
          safety: false,
        });
        expect(step.why).toMatch(/^(Overdue, says \w.*\.|Nobody knows when it was last done\.|Due now\.)$/);
        continue;
      }
      const { point } = points.find((one) => one.code === code && one.title === step.title)!;
      const look = point.look!;
      expect(step).toMatchObject({
        component: told.components.find(({ key }) => key === point.component)!.name,
        how: look.how,
        place: look.place,
        method: look.method,
        spot: look.spot,
        good: look.good,
        worn: look.worn,
        failed: look.failed,
        minutes: look.minutes,
        measure: look.measure ?? null,
        grades: look.grades ?? [],
        tools: anyOrder((look.tools ?? []).map(toolName)),
        cautions: anyOrder((look.cautions ?? []).map(caution)),
        safety: point.safety === true,
      });
      expect(step.why.length).toBeGreaterThan(10);
    }
  }
});
