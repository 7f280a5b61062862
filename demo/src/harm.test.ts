import type { Pack } from '@crosspeen/contract';
import { demoPacks } from './pack.ts';

type Family = Pack['families'][number];
type Operation = Family['operations'][number];

/** Everything in the demo that hands do: looks, checks, operations and upkeep, in one shape. */
interface Handwork {
  readonly where: string;
  readonly kind: 'look' | 'check' | 'operation' | 'upkeep';
  readonly words: string;
  readonly cautions: readonly string[];
  readonly engine: string;
  readonly heat: string | undefined;
  readonly lifted: boolean;
  readonly place: string | undefined;
  readonly spot: string | undefined;
  readonly family: Family;
  readonly component: string;
}

const packs = demoPacks();
const componentName = new Map(packs.flatMap(({ components }) => components.map(({ key, name }) => [key, name])));

/** Cautions of an operation and of all that it needs off first. */
function cautionsWith(key: string, operations: ReadonlyMap<string, Operation>): string[] {
  const operation = operations.get(key)!;
  return [...operation.cautions, ...operation.needs.flatMap((need) => cautionsWith(need, operations))];
}

function handworkOf(family: Family): Handwork[] {
  const operations = new Map(family.operations.map((operation) => [operation.key, operation]));
  const off = (keys: readonly string[] | undefined): string[] =>
    (keys ?? []).flatMap((key) => cautionsWith(key, operations));
  const still = { engine: 'off', heat: undefined, lifted: false, place: undefined, spot: undefined, family };
  const looks = family.weakPoints.flatMap(({ key, component, look }): Handwork[] =>
    look === undefined
      ? []
      : [
          {
            ...still,
            where: `look ${key}`,
            kind: 'look',
            words: look.how,
            cautions: [...(look.cautions ?? []), ...off(look.off)],
            engine: look.needs?.engine ?? 'off',
            heat: look.needs?.heat,
            lifted: look.needs?.lifted ?? false,
            place: look.place,
            spot: look.spot,
            component: componentName.get(component)!,
          },
        ],
  );
  const checks = family.checks.map((check): Handwork => ({
    ...still,
    where: `check ${check.key}`,
    kind: 'check',
    words: check.ask,
    cautions: [...(check.cautions ?? []), ...off(check.off)],
    engine: check.needs?.engine ?? 'off',
    heat: check.needs?.heat,
    lifted: check.needs?.lifted ?? false,
    component: '',
  }));
  const works = family.operations.map((operation): Handwork => ({
    ...still,
    where: `operation ${operation.key}`,
    kind: 'operation',
    words: `${operation.name} ${operation.fluids.join(' ')}`,
    cautions: cautionsWith(operation.key, operations),
    component: '',
  }));
  const care = family.upkeep.map((task): Handwork => ({
    ...still,
    where: `upkeep ${task.key}`,
    kind: 'upkeep',
    words: `${task.title}. ${task.how}`,
    cautions: task.cautions,
    engine: /\bat idle\b/i.test(task.how) ? 'running' : 'off',
    component: '',
  }));
  return [...looks, ...checks, ...works, ...care];
}

const all = packs.flatMap(({ families }) => families.flatMap(handworkOf));
const TRUCKS = new Set(['br67d', 'br92l']);
const MACHINES = new Set(['br36m']);

/** What may hurt, how it is told from the work itself, and the cautions of which one must stand beside it. */
const HARM: readonly (readonly [what: string, applies: (work: Handwork) => boolean, cautions: readonly string[]])[] = [
  ['an engine that runs', ({ engine }) => engine === 'running' || engine === 'cranking', ['running-engine']],
  ['a vehicle that is driven for it', ({ engine }) => engine === 'driven', ['hot-exhaust', 'two-people', 'rotating']],
  ['a vehicle overhead', ({ lifted, place }) => lifted || place === 'underneath', ['on-lift']],
  [
    'fans and belts beside the hand',
    ({ engine, spot, kind }) => kind === 'look' && engine === 'off' && (spot === 'timing_end' || spot === 'radiator'),
    ['rotating', 'hot-coolant', 'on-lift', 'spring-load'],
  ],
  [
    'coolant that is pressed up',
    ({ words }) => /\bpress(ed)?\b.*\bup\b|pressure decay|pressurise/i.test(words),
    ['pressure-test'],
  ],
  [
    'coolant that is opened',
    ({ words, kind }) =>
      kind !== 'check' &&
      /coolant (out|flange|degas|rail|renewed|hose)|tank cap off|water pump|thermostat|radiator|expansion tank/i.test(
        words,
      ),
    ['hot-coolant'],
  ],
  ['a gas test over hot coolant', ({ words }) => /gas test/i.test(words), ['hot-coolant']],
  [
    'diesel or petrol under pressure',
    ({ words }) => /inject|fuel (tank|return|filter)|intake manifold|return hose/i.test(words),
    ['fuel-pressure', 'fuel-spray', 'hot-exhaust', 'running-engine'],
  ],
  [
    'oil that is drained or opened',
    ({ words, kind }) => kind === 'operation' && /\boil (and filter|out|drained)|oil pan/i.test(words),
    ['used-oil'],
  ],
  [
    'undertrays, pan and gearbox overhead',
    ({ words, kind }) => kind === 'operation' && /undertray|shields|gearbox off|pan off/i.test(words),
    ['on-lift'],
  ],
  [
    'an engine that hangs on a mount',
    ({ words, kind }) => kind === 'operation' && /engine mount/i.test(words),
    ['support-beam'],
  ],
  [
    'an engine or gearbox that is carried',
    ({ words, kind }) => kind === 'operation' && /(gearbox|engine and gearbox) (off|out)/i.test(words),
    ['carried'],
  ],
  [
    'a belt or chain that comes off',
    ({ words, kind }) => kind === 'operation' && /timing (belt|chain).*(off|renew)/i.test(words),
    ['lost-timing'],
  ],
  ['a belt that comes off its back', ({ words }) => /belt off its back/i.test(words), ['lost-timing']],
  [
    'a compressor that is opened',
    ({ words, kind }) => kind === 'operation' && /compressor head/i.test(words),
    ['stored-air'],
  ],
  [
    'a tilted cab',
    ({ family, kind, engine }) =>
      TRUCKS.has(family.key) && kind !== 'check' && kind !== 'upkeep' && engine !== 'driven',
    ['cab-lock'],
  ],
  [
    'raised arms',
    ({ family, kind }) => MACHINES.has(family.key) && (kind === 'look' || kind === 'operation'),
    ['boom-down'],
  ],
  ['a fan turned by hand', ({ words }) => /fan at rest/i.test(words), ['fan-by-hand']],
];

test.each(HARM)('%s has its caution, over the whole demo library', (_what, applies, cautions) => {
  const found = all.filter(applies);
  expect(found.length).toBeGreaterThan(0);
  expect(
    found.filter((work) => !cautions.some((one) => work.cautions.includes(one))).map(({ where }) => where),
  ).toEqual([]);
});

test('a caution fits what the look does: no key out beside a running engine, no earth off where volts are read', () => {
  const runs = all.filter(({ engine }) => engine === 'running' || engine === 'cranking');
  expect(runs.filter(({ cautions }) => cautions.includes('battery')).map(({ where }) => where)).toEqual([]);
  const keyOut = runs.filter(({ cautions, words }) => cautions.includes('rotating') && !/\bstop\b/.test(words));
  expect(keyOut.map(({ where }) => where)).toEqual([]);
});

test('coolant is pressed up on a cold engine', () => {
  const pressed = all.filter(
    ({ words, kind }) => kind !== 'operation' && /\bpress(ed)?\b.*\bup\b|pressurise|pressure decay/i.test(words),
  );
  expect(pressed.length).toBeGreaterThan(5);
  expect(pressed.filter(({ heat }) => heat !== 'cold').map(({ where }) => where)).toEqual([]);
});

test('every symptom of an engine or safety item says whether the vehicle may be driven', () => {
  const grave = new Set(
    packs.flatMap(({ families }) =>
      families.flatMap(({ weakPoints }) =>
        weakPoints
          .filter(({ consequence, safety }) => consequence === 'engine' || safety)
          .flatMap(({ symptoms }) => symptoms.map(({ symptom }) => symptom)),
      ),
    ),
  );
  const symptoms = packs[0]!.symptoms.filter(({ key }) => grave.has(key));
  expect(symptoms.length).toBeGreaterThan(10);
  expect(symptoms.filter(({ stop, drive }) => stop === undefined && drive === undefined).map(({ key }) => key)).toEqual(
    [],
  );
  expect(packs[0]!.symptoms.filter(({ stop, drive }) => stop !== undefined && drive !== undefined)).toEqual([]);
});

test('what is counted on a tensioner means one thing: more teeth out is more wear, and no variant is told by them', () => {
  for (const { families, components } of packs) {
    const told = [
      ...families.flatMap(({ variants }) => variants.map(({ howToTell }) => howToTell)),
      ...components.flatMap(({ parts }) => parts.map(({ howToTell }) => howToTell)),
    ];
    expect(told.filter((words) => /teeth/.test(words ?? ''))).toEqual([]);
    for (const { weakPoints } of families)
      for (const { look } of weakPoints) if (look?.measure?.unit === 'teeth') expect(look.measure.worse).toBe('higher');
  }
});
