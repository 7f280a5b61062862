import {
  type ComponentClass,
  type Nature,
  type ShareWord,
  type Untold,
  UNSAID_SHARE,
  UNSAID_WINDOW,
} from '@crosspeen/core';
import { z } from 'zod';
import { shortText } from './common.ts';
import { packFamily, packNotice } from './pack-family.ts';
import { packKey as key } from './pack-parts.ts';
import { checkReferences } from './pack-references.ts';
import { packAuthority, packCaution, packComponent, packSymptom, packTool } from './pack-shelf.ts';

/** Fills unstated parts of a life with wide defaults, and marks them as unstated. */
function standingIn<
  Point extends { readonly component: string; share?: ShareWord | undefined; causes: string[]; notTold: Untold[] },
>(point: Point, classOf: ReadonlyMap<string, ComponentClass>): Point & { readonly share: ShareWord } {
  const notTold = new Set(point.notTold);
  if (point.share === undefined) notTold.add('share');
  if (point.causes.length === 0) notTold.add('window');
  return {
    ...point,
    share: point.share ?? UNSAID_SHARE,
    causes: point.causes.length > 0 ? point.causes : [UNSAID_WINDOW[classOf.get(point.component)!]],
    notTold: [...notTold],
  };
}

/** Format 1 had no word for the nature of a weak point: what is of the class that fails early or never was a defect. */
function fromFormat1<
  Read extends {
    readonly components: readonly { readonly key: string; readonly class: ComponentClass }[];
    readonly families: readonly { readonly weakPoints: readonly { readonly component: string; nature: Nature }[] }[];
  },
>(read: Read): Read {
  const early = new Set(read.components.filter((component) => component.class === 'early').map(({ key: of }) => of));
  for (const family of read.families)
    for (const point of family.weakPoints) if (early.has(point.component)) point.nature = 'defect';
  return read;
}

/** A library pack: what is known of some engines, as open JSON. */
export const pack = z
  .strictObject({
    format: z.literal('crosspeen-pack'),
    formatVersion: z
      .union([z.literal(1), z.literal(2)])
      .meta({ description: 'Format 2 is written; format 1 is still read' }),
    key,
    title: shortText(120),
    version: z.string().regex(/^[0-9]{1,5}\.[0-9]{1,5}\.[0-9]{1,5}$/, { message: 'must be a version such as 1.0.0' }),
    licence: shortText(120),
    note: shortText(600).optional(),
    makers: z.array(z.strictObject({ key, name: shortText(60) })).max(500),
    authorities: z.array(packAuthority).max(500),
    components: z.array(packComponent).max(10_000),
    tools: z.array(packTool).max(1000).default([]),
    cautions: z.array(packCaution).max(500).default([]),
    symptoms: z.array(packSymptom).max(1000).default([]),
    families: z.array(packFamily).max(1000),
    notices: z.array(packNotice).max(2000).default([]),
  })
  .superRefine(checkReferences)
  .transform((value) => (value.formatVersion === 1 ? fromFormat1(value) : value))
  .transform((value) => {
    const classOf = new Map(value.components.map((component) => [component.key, component.class]));
    return {
      ...value,
      families: value.families.map((family) => ({
        ...family,
        weakPoints: family.weakPoints.map((point) => standingIn(point, classOf)),
      })),
    };
  });
export type Pack = z.infer<typeof pack>;
export type PackInput = z.input<typeof pack>;

/** JSON Schema (2020-12) of the pack format, for other programs and editors. */
export const packJsonSchema = (): object => ({
  title: 'Crosspeen library pack',
  ...z.toJSONSchema(pack, { target: 'draft-2020-12', io: 'input' }),
});
