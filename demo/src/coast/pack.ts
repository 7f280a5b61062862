import { pack, type Pack, type PackInput } from '@crosspeen/contract';
import { COAST_FAMILIES } from './families.ts';
import type { CoastFamily } from './family.ts';
import { upkeepOf, type Care } from '../upkeep.ts';
import { layoutOf } from './places.ts';
import { accessMinutes, BOOKS, firstCautions, kebab, pointKey, pointsOf, saidOf, voiceOf } from './points.ts';
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

const NUMBER_WORDS: Readonly<Record<number, string>> = { 2: 'two', 3: 'three', 4: 'four', 6: 'six' };

/** Name and price of what goes in: one, or a set of one for each cylinder. */
function soldAs({ component, price, set }: Slot, family: CoastFamily): { name: string; price: number } {
  const { cylinders } = layoutOf(family);
  return set === undefined
    ? { name: component, price }
    : { name: `${component}, set of ${NUMBER_WORDS[cylinders]!}`, price: price * cylinders };
}

/** The operation that renews it, of so many minutes beside what is off by then. */
function operationOf(name: SlotName, slot: Slot, family: CoastFamily, minutes: number): Operation {
  const point = pointKey(name, family);
  return {
    key: `${point}-renew`,
    name: `${slot.component}: renew`,
    minutes,
    needs: slot.access.map((access) => `${family.key}-${access}`),
    tools: [...(slot.tools ?? [])],
    cautions: [...new Set([...(slot.cautions ?? []), ...firstCautions(family)])],
    renewWith: (saidOf(name, family).renewWith ?? [])
      .filter((other) => family.slots.includes(other))
      .map((other) => `${family.key}-${kebab(other)}-part`),
    oneTime: [...(saidOf(name, family).oneTime ?? [])],
    ...(slot.afterwards ? { afterwards: [...slot.afterwards] } : {}),
  };
}

/** The component with the parts that are sold for it; `at` counts the weak points of the engine. */
function componentOf(name: SlotName, slot: Slot, family: CoastFamily, at: number): PackInput['components'][number] {
  const sold = soldAs(slot, family);
  const number = (suffix: string): string => `${family.number}${String(11 + at * 7).padStart(2, '0')}-${suffix}`;
  return {
    key: `${pointKey(name, family)}-part`,
    name: slot.component,
    class: slot.class,
    group: slot.group,
    fittedTo: slot.fittedTo ?? 'engine',
    parts: [
      ...(slot.revision
        ? [
            {
              number: number(slot.revision),
              name: sold.name,
              grade: 'original' as const,
              revision: slot.revision,
              howToTell: `the letter ${slot.revision} stands behind the number cast into it`,
              supersedes: number('A'),
              priceMinor: Math.round(sold.price * 1.15),
            },
          ]
        : []),
      {
        number: number('A'),
        name: sold.name,
        grade: 'original',
        ...(slot.revision ? { revision: 'A' } : {}),
        priceMinor: sold.price,
      },
      ...(sold.price > 5000
        ? [
            {
              number: `CW ${family.code}-${at + 1}`,
              name: `${sold.name}, Coastwise`,
              grade: 'equivalent' as const,
              priceMinor: Math.round(sold.price * 0.62),
            },
          ]
        : []),
    ],
  };
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
      const { name, needs, tools = [], cautions = [], fluids = [], afterwards = [] } = ACCESS[access];
      return {
        key: accessKey(access),
        name: name(family),
        minutes: accessMinutes(access, family),
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
    const access = [...withNeeds(slot.access)].reduce((sum, each) => sum + accessMinutes(each, family), 0);
    const minutes = Math.max(slot.minutes, access + 15);
    operations.push(operationOf(name, slot, family, minutes - access));
    components.push(componentOf(name, slot, family, at));
    weakPoints.push(...pointsOf(name, slot, family, minutes));
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
    version: '1.5.1',
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
