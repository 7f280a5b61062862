import { pack, type Pack, type PackInput } from '@crosspeen/contract';
import { MORE, type More } from './more.ts';
import { COAST_FAMILIES, type CoastFamily } from './families.ts';
import { upkeepOf, type Care } from '../upkeep.ts';
import { layoutOf, placeOf } from './places.ts';
import type { Access, Slot } from './slot.ts';
import { SLOTS, type SlotName } from './slots.ts';
import { ACCESS, withNeeds } from './access.ts';

type Family = PackInput['families'][number];

type Point = NonNullable<Family['weakPoints']>[number];

type Operation = NonNullable<Family['operations']>[number];

const MAKERS = {
  vellmar: 'Vellmar',
  osterlin: 'Osterlin',
  dunmarrow: 'Dunmarrow',
  kestrane: 'Kestrane',
  brandreth: 'Brandreth',
  'tarn-hollis': 'Tarn & Hollis',
} as const;

const BOOKS = {
  vellmar: 'vellmar-book',
  osterlin: 'osterlin-book',
  dunmarrow: 'dunmarrow-book',
  kestrane: 'kestrane-book',
  brandreth: 'brandreth-book',
  'tarn-hollis': 'tarn-hollis-book',
} as const;

/** What comes before any work on a truck or a machine. */
const firstCautions = ({ maker, key }: CoastFamily): readonly string[] =>
  maker !== 'brandreth' ? [] : key === 'br36m' ? ['boom-down'] : ['cab-lock'];

const kebab = (name: string): string => name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);

/** To figures that people say: steps of 5 above 50, of 1 below. */
const said = (value: number): number => (value > 50 ? Math.round(value / 5) * 5 : Math.max(1, Math.round(value)));

/** A look on one engine: what comes before any work there, and a lift where it is made from below. */
function lookOf(
  { cautions = [], needs, ...look }: NonNullable<Slot['look']>,
  more: More['look'],
  family: CoastFamily,
): NonNullable<Point['look']> {
  const isBelow = more?.[0] === 'underneath';
  const told = {
    ...look,
    cautions: [...new Set([...firstCautions(family), ...cautions, ...(isBelow ? ['on-lift'] : [])])],
    needs: { ...(needs ?? { engine: 'off' as const }), ...(isBelow ? { lifted: true as const } : {}) },
  };
  if (more === undefined) return told;
  const [place, method, good, worn, failed] = more;
  return { ...told, place, method, good, worn, failed };
}

/** What is told of a slot beside its life, on one engine: timing harms nothing where valves clear the pistons. */
function moreOf(name: SlotName, { key, interference, slots }: CoastFamily): Partial<Point> {
  const { shows, harms, failure, hastens } = MORE[name];
  const group = SLOTS[name].group;
  const harmless = group === 'timing' && !interference;
  const damages = (harms ?? []).flatMap(([what, chance]): NonNullable<Point['damages']> =>
    typeof what === 'string'
      ? [{ harms: what, chance }]
      : slots.includes(what.slot)
        ? [{ weakPoint: `${key}-${kebab(what.slot)}`, chance }]
        : [],
  );
  return {
    ...(shows ? { symptoms: Object.entries(shows).map(([symptom, often]) => ({ symptom, shows: often })) } : {}),
    ...(damages.length > 0 && !harmless ? { damages } : {}),
    ...(failure && !harmless ? { failure: { partsMinor: failure[0], minutes: failure[1] } } : {}),
    ...(hastens ? { hastens } : {}),
  };
}

/** The windows of a slot on one engine, in the pack's shorthand. */
function causesOf(slot: Slot, lives: number): string[] {
  const spans = [
    ...(slot.km ? [`${said(slot.km[0] * lives)}-${said(slot.km[1] * lives)}k km`] : []),
    ...(slot.hours
      ? [`${said((slot.hours[0] * lives) / 100) * 100}-${said((slot.hours[1] * lives) / 100) * 100}h`]
      : []),
    ...(slot.years
      ? [`${Math.round(slot.years[0] * Math.sqrt(lives))}-${Math.round(slot.years[1] * Math.sqrt(lives))}y`]
      : []),
  ];
  // One ageing told in several units is one cause: whichever first.
  return [spans.join(' | ')];
}

/** Parts of a window's beginning at which they renew: those who see many of them, and the maker. */
const BEFORE_FIRST = { specialist: 0.7, book: 0.85 } as const;

/** An interval that lies before the first failures. */
function intervalOf(slot: Slot, lives: number, part: number): string {
  const on = (clock: 'km' | 'years' | 'hours'): number =>
    slot.interval!.includes(clock) ? (slot[clock]?.[0] ?? 0) : 0;
  const [km, years, hours] = [on('km'), on('years'), on('hours')];
  return [
    ...(km > 0 ? [`${said(km * lives * part)}k km`] : []),
    ...(hours > 0 ? [`${said((hours * lives * part) / 100) * 100}h`] : []),
    ...(years > 0 ? [`${Math.max(1, Math.round(years * Math.sqrt(lives) * part))}y`] : []),
  ].join(' | ');
}

const BOOK_WORDS = [
  'No interval is given.',
  'To be looked at with every service; renewed as found.',
  'For the life of the engine.',
] as const;

/** Who speaks of a weak point: the chain's people of chains and belts, the others of their own kind of vehicle. */
const voiceOf = ({ group }: Pick<Slot, 'group'>, { maker, drive }: CoastFamily): string =>
  maker === 'brandreth'
    ? 'heavy-yard'
    : maker === 'tarn-hollis'
      ? 'ridge-bench'
      : group === 'timing' && drive === 'chain'
        ? 'chain-loft'
        : 'quay-motors';

/** How an engine of the pack is looked after. */
const careOf = ({ key, maker, fuel, drive }: CoastFamily): Care =>
  key === 'br36m'
    ? 'machine'
    : maker === 'brandreth'
      ? 'truck'
      : maker === 'tarn-hollis'
        ? 'twin'
        : fuel === 'diesel'
          ? 'diesel'
          : drive === 'belt'
            ? 'belt'
            : 'chain';

function statementsOf(name: SlotName, slot: Slot, family: CoastFamily, at: number): Point['statements'] {
  const specialist = voiceOf(slot, family);
  const book = BOOKS[family.maker];
  return [
    slot.interval
      ? {
          authority: book,
          edition: '2016',
          words: 'Renew at this interval.',
          interval: intervalOf(slot, family.lives, BEFORE_FIRST.book),
        }
      : { authority: book, edition: '2016', words: BOOK_WORDS[at % 3]! },
    slot.interval
      ? {
          authority: specialist,
          words: MORE[name].says,
          interval: intervalOf(slot, family.lives, BEFORE_FIRST.specialist),
        }
      : { authority: specialist, words: MORE[name].says },
    ...(slot.revision
      ? [
          {
            authority: 'coast-circular',
            edition: 'circular 14, 2019',
            words: `Revision ${slot.revision} ends it; fit nothing older.`,
          },
        ]
      : []),
  ];
}

function familyOf(family: CoastFamily): { readonly family: Family; readonly components: PackInput['components'] } {
  const slots = family.slots.map((name): { name: SlotName; slot: Slot } => ({
    name,
    slot: { ...SLOTS[name], ...family.told?.[name] },
  }));
  const used = new Set(slots.flatMap(({ slot }) => [...withNeeds(slot.access)]));
  const accessKey = (access: Access): string => `${family.key}-${access}`;
  const operations: Operation[] = (Object.keys(ACCESS) as Access[])
    .filter((access) => used.has(access))
    .map((access) => {
      const { name, minutes, needs, tools = [], cautions = [], fluids = [], afterwards = [] } = ACCESS[access];
      return {
        key: accessKey(access),
        name: name(family.drive),
        minutes: minutes(family.drive),
        needs: needs.map(accessKey),
        tools: [...tools],
        cautions: [...new Set([...cautions, ...firstCautions(family)])],
        fluids: [...fluids],
        afterwards: [...afterwards],
      };
    });
  const components: PackInput['components'] = [];
  const weakPoints: Point[] = [];
  slots.forEach(({ name, slot }, at) => {
    const component = `${family.key}-${kebab(name)}-part`;
    const point = `${family.key}-${kebab(name)}`;
    const access = [...withNeeds(slot.access)].reduce((sum, each) => sum + ACCESS[each].minutes(family.drive), 0);
    const minutes = Math.max(slot.minutes, access + 15);
    const number = (suffix: string): string => `${family.number}${String(11 + at * 7).padStart(2, '0')}-${suffix}`;
    operations.push({
      key: `${point}-renew`,
      name: `${slot.component}: renew`,
      minutes: minutes - access,
      needs: slot.access.map(accessKey),
      tools: [...(slot.tools ?? [])],
      cautions: [...new Set([...(slot.cautions ?? []), ...firstCautions(family)])],
      renewWith: (MORE[name].renewWith ?? [])
        .filter((other) => family.slots.includes(other))
        .map((other) => `${family.key}-${kebab(other)}-part`),
      oneTime: [...(MORE[name].oneTime ?? [])],
    });
    components.push({
      key: component,
      name: slot.component,
      class: slot.class,
      group: slot.group,
      fittedTo: slot.fittedTo ?? 'engine',
      parts: [
        ...(slot.revision
          ? [
              {
                number: number(slot.revision),
                name: slot.component,
                grade: 'original' as const,
                revision: slot.revision,
                howToTell: `the letter ${slot.revision} stands behind the number cast into it`,
                supersedes: number('A'),
                priceMinor: Math.round(slot.price * 1.15),
              },
            ]
          : []),
        {
          number: number('A'),
          name: slot.component,
          grade: 'original',
          ...(slot.revision ? { revision: 'A' } : {}),
          priceMinor: slot.price,
        },
        ...(slot.price > 5000
          ? [
              {
                number: `CW ${family.code}-${at + 1}`,
                name: `${slot.component}, Coastwise`,
                grade: 'equivalent' as const,
                priceMinor: Math.round(slot.price * 0.62),
              },
            ]
          : []),
      ],
    });
    const earlier =
      family.revisedInLater === name && family.variants.length > 1 ? { variants: [family.variants[0]!.key] } : {};
    weakPoints.push({
      key: point,
      component,
      operation: `${point}-renew`,
      title: slot.title,
      consequence: slot.consequence,
      ...(slot.safety || (slot.safetyWithTurbo && family.aspiration === 'turbo') ? { safety: true } : {}),
      effect: slot.effect,
      signs: slot.signs,
      share: slot.share,
      // What the later variant left the works without was built into some of the earlier ones.
      ...('variants' in earlier ? { nature: 'defect' as const } : {}),
      causes: causesOf(slot, family.lives),
      ...moreOf(name, family),
      // Where valves clear the pistons a jumped belt harms nothing.
      ...(slot.forbids && (slot.group !== 'timing' || family.interference) ? { forbids: [...slot.forbids] } : {}),
      ...(slot.look ? { look: { ...lookOf(slot.look, MORE[name].look, family), ...placeOf(name) } } : {}),
      renewMinutes: minutes,
      appliesTo: earlier,
      ...(slot.revision ? { retiredByRevision: slot.revision } : {}),
      statements: statementsOf(name, slot, family, at),
    });
  });
  const year = (month: string | undefined): number => (month === undefined ? 2026 : Number(month.slice(0, 4)));
  return {
    components,
    family: {
      key: family.key,
      maker: family.maker,
      code: family.code,
      name: family.name,
      displacementL: family.displacementL,
      fuel: family.fuel,
      aspiration: family.aspiration,
      timingDrive: family.drive,
      interference: family.interference,
      layout: layoutOf(family),
      ...(family.note ? { note: family.note } : {}),
      variants: family.variants.map(({ key, name, from, to, howToTell, models }) => ({
        key,
        name,
        producedFrom: from,
        ...(to ? { producedTo: to } : {}),
        howToTell,
        models: models.map((model) => ({ model, from: year(from), to: year(to) })),
      })),
      operations,
      weakPoints,
      upkeep: upkeepOf(
        careOf(family),
        { key: family.key, weakPoints },
        { book: BOOKS[family.maker], specialist: voiceOf({ group: 'other' }, family) },
      ),
    },
  };
}

/**
 * The coast pack: twelve engines told from a small library of builds written by hand. Tools and cautions are those of
 * the pack it stands beside.
 */
export function coastPack({
  tools,
  cautions,
  symptoms,
  authorities,
}: Pick<Pack, 'tools' | 'cautions' | 'symptoms' | 'authorities'>): Pack {
  const told = COAST_FAMILIES.map(familyOf);
  const shared = new Set([...Object.values(BOOKS), 'chain-loft']) as ReadonlySet<string>;
  return pack.parse({
    format: 'crosspeen-pack',
    formatVersion: 2,
    key: 'coast-demo',
    title: 'Coast road demo library',
    version: '1.4.0',
    licence: 'CC0-1.0',
    note: 'Everything in this pack is made up: makes, engines, parts, authorities, intervals and lives. It describes no real vehicle.',
    makers: Object.entries(MAKERS).map(([key, name]) => ({ key, name })),
    authorities: [
      ...authorities.filter(({ key }) => shared.has(key)),
      { key: 'brandreth-book', kind: 'book', name: 'Brandreth operator’s handbook' },
      { key: 'tarn-hollis-book', kind: 'book', name: 'Tarn & Hollis rider’s schedule' },
      { key: 'quay-motors', kind: 'specialist', name: 'Quay Motors’ notebook' },
      { key: 'heavy-yard', kind: 'specialist', name: 'The Heavy Yard' },
      { key: 'ridge-bench', kind: 'specialist', name: 'The Ridge Bench, motorcycles' },
      { key: 'coast-circular', kind: 'bulletin', name: 'Coast parts circular' },
    ],
    components: told.flatMap(({ components }) => components),
    tools,
    cautions,
    symptoms,
    families: told.map(({ family }) => family),
  });
}
