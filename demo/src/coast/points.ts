import type { PackInput } from '@crosspeen/contract';
import { ACCESS } from './access.ts';
import type { CoastFamily } from './family.ts';
import { MORE, type More } from './more.ts';
import { placeOf } from './places.ts';
import type { Access, Slot } from './slot.ts';
import { SLOTS, type SlotName } from './slots.ts';

type Point = NonNullable<PackInput['families'][number]['weakPoints']>[number];

export const BOOKS = {
  vellmar: 'vellmar-book',
  osterlin: 'osterlin-book',
  dunmarrow: 'dunmarrow-book',
  kestrane: 'kestrane-book',
  brandreth: 'brandreth-book',
  'tarn-hollis': 'tarn-hollis-book',
} as const;

/** What comes before any work on a truck or a machine. */
export const firstCautions = ({ maker, key }: CoastFamily): readonly string[] =>
  maker !== 'brandreth' ? [] : key === 'br36m' ? ['boom-down'] : ['cab-lock'];

export const kebab = (name: string): string => name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);

/** The key of a slot on one engine. */
export const pointKey = (name: SlotName, { key }: Pick<CoastFamily, 'key'>): string => `${key}-${kebab(name)}`;

/** To figures that people say: steps of 5 above 50, of 1 below. */
const said = (value: number): number => (value > 50 ? Math.round(value / 5) * 5 : Math.max(1, Math.round(value)));

/** A look on one engine: what comes before any work there, and a lift where it is made from below. */
function lookOf(
  { cautions = [], needs, off, ...look }: NonNullable<Slot['look']>,
  more: More['look'],
  family: CoastFamily,
): NonNullable<Point['look']> {
  const isBelow = more?.[0] === 'underneath';
  const told = {
    ...look,
    cautions: [...new Set([...firstCautions(family), ...cautions, ...(isBelow ? ['on-lift'] : [])])],
    needs: { ...(needs ?? { engine: 'off' as const }), ...(isBelow ? { lifted: true as const } : {}) },
    ...(off ? { off: off.map((access) => `${family.key}-${access}`) } : {}),
  };
  if (more === undefined) return told;
  const [place, method, good, worn, failed] = more;
  return { ...told, place, method, good, worn, failed };
}

/** What practitioners say of a slot, on one engine. */
export const saidOf = (name: SlotName, { said: own }: CoastFamily): More => ({ ...MORE[name], ...own?.[name] });

/** What is told of a slot beside its life, on one engine: timing harms nothing where valves clear the pistons. */
function moreOf(name: SlotName, family: CoastFamily): Partial<Point> {
  const { key, interference, slots } = family;
  const { shows, harms, failure, hastens } = saidOf(name, family);
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
function causesOf(slot: Pick<Slot, 'km' | 'hours' | 'years'>, lives: number): string[] {
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

/** What a book says where it gives no interval: of gears and chains, of what is seen from outside, of the rest. */
const bookWords = ({ class: kind, group, look }: Slot): string =>
  group === 'timing' && (kind === 'chain' || kind === 'plastic' || kind === 'bearing')
    ? 'For the life of the engine.'
    : look && look.minutes <= 20 && look.off === undefined
      ? 'To be looked at with every service; renewed as found.'
      : 'No interval is given.';

/** Who speaks of a weak point: the chain's people of chains and belts, the others of their own kind of vehicle. */
export const voiceOf = ({ group }: Pick<Slot, 'group'>, { maker, drive }: CoastFamily): string =>
  maker === 'brandreth'
    ? 'heavy-yard'
    : maker === 'tarn-hollis'
      ? 'ridge-bench'
      : group === 'timing' && drive === 'chain'
        ? 'chain-loft'
        : 'quay-motors';

function statementsOf(name: SlotName, slot: Slot, family: CoastFamily): Point['statements'] {
  const specialist = voiceOf(slot, family);
  const book = BOOKS[family.maker];
  const { says } = saidOf(name, family);
  return [
    slot.interval
      ? {
          authority: book,
          edition: '2016',
          words: 'Renew at this interval.',
          interval: intervalOf(slot, family.lives, BEFORE_FIRST.book),
        }
      : { authority: book, edition: '2016', words: bookWords(slot) },
    slot.interval
      ? { authority: specialist, words: says, interval: intervalOf(slot, family.lives, BEFORE_FIRST.specialist) }
      : { authority: specialist, words: says },
    ...(slot.revision
      ? [
          {
            authority: 'coast-circular',
            edition: 'circular 14, 2019',
            words: `Revision ${slot.revision} cures it; fit nothing older.`,
          },
        ]
      : []),
  ];
}

/** How the revised part wears in its turn, looked at and renewed in the same way, where it is in there. */
function laterOf({ key, ...told }: Point, { later }: Slot, { lives, variants }: CoastFamily): Point[] {
  const { retiredByRevision: cures, nature: _defect, ...same } = told;
  if (later === undefined || cures === undefined) return [];
  const first = told.appliesTo?.variants?.[0];
  const built = variants
    .filter((variant) => first !== undefined && variant.key !== first)
    .map((variant) => variant.key);
  const { title, effect = told.effect, signs = told.signs } = later;
  return [
    {
      ...same,
      key: `${key}-wear`,
      title,
      effect,
      signs,
      share: 'some',
      causes: causesOf(later, lives),
      appliesTo: { ...(built.length > 0 ? { variants: built } : {}), revisionFitted: cures },
      statements: told.statements?.filter(({ authority }) => authority !== 'coast-circular') ?? [],
    },
  ];
}

/** Minutes of a way in on one engine. */
export const accessMinutes = (access: Access, { minutes, drive }: CoastFamily): number =>
  minutes?.[access] ?? ACCESS[access].minutes(drive);

/** A slot on one engine, renewed in so many minutes: its weak point, and how a revised part wears in its turn. */
export function pointsOf(name: SlotName, slot: Slot, family: CoastFamily, minutes: number): Point[] {
  const key = pointKey(name, family);
  const earlier =
    family.revisedInLater === name && family.variants.length > 1 ? { variants: [family.variants[0]!.key] } : {};
  const told: Point = {
    key,
    component: `${key}-part`,
    operation: `${key}-renew`,
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
    ...(slot.look ? { look: { ...lookOf(slot.look, saidOf(name, family).look, family), ...placeOf(name) } } : {}),
    renewMinutes: minutes,
    appliesTo: earlier,
    ...(slot.revision ? { retiredByRevision: slot.revision } : {}),
    statements: statementsOf(name, slot, family),
  };
  return [told, ...laterOf(told, slot, family)];
}
