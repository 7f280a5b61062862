import {
  AUTHORITY_KINDS,
  type ComponentClass,
  CONSEQUENCES,
  GROUPS,
  NATURES,
  OBSERVATION_KINDS,
  SHAPE_BY_CLASS,
} from '@crosspeen/core';
import { z } from 'zod';
import { familyId, isoDate, paging, searchText, span, vehicleId, weakPointId, words } from './common.ts';

/** A figure with its 90 % interval. */
const spread = z.object({ middle: z.number(), low: z.number(), high: z.number() });

export const benchListQuery = paging.extend({
  q: searchText,
  /** Most failures first, or furthest from what is published. */
  order: z.enum(['failures', 'apart', 'parts']).default('failures'),
});

/**
 * Findings of this workshop on one weak point, beside the published life. Lives are relative to the
 * published typical life.
 */
export const benchRow = z
  .object({
    weakPointId,
    title: z.string(),
    component: z.string(),
    group: z.enum(GROUPS),
    consequence: z.enum(CONSEQUENCES),
    familyId,
    engineCode: z.string(),
    maker: z.string(),
    causes: z.array(z.array(span)),
    nature: z.enum(NATURES),
    componentClass: z.enum(words<ComponentClass>(SHAPE_BY_CLASS)),
    share: z.number(),
    vehicles: z.int(),
    parts: z.int(),
    failures: z.int(),
    worn: z.int(),
    stillFine: z.int(),
    broughtIn: z.int(),
    publishedLife: spread,
    ownLife: spread,
    publishedShare: spread,
    ownShare: spread,
    enough: z.enum(['yes', 'few_failures', 'hardly_narrower']),
    /** Observations have come in that the figures do not hold yet. */
    stale: z.boolean(),
  })
  .meta({ id: 'BenchRow' });
export type BenchRow = z.infer<typeof benchRow>;

export const benchPart = z.object({
  vehicleId,
  plate: z.string().nullable(),
  name: z.string().nullable(),
  kind: z.enum(OBSERVATION_KINDS),
  counted: z.boolean(),
  broughtIn: z.boolean(),
  installDay: isoDate,
  endDay: isoDate,
  /** Distance the part had run at its end, km. */ km: z.number(),
  looks: z.int(),
});
export type BenchPart = z.infer<typeof benchPart>;

/** One weak point on the bench: its figures, curves and a worked explanation of why survivors count. */
export const benchDetail = z
  .object({
    row: benchRow,
    statements: z.array(z.object({ authority: z.string(), kind: z.enum(AUTHORITY_KINDS), words: z.string() })),
    /**
     * Share of all engines of this kind that have failed, by part of the published typical life: published, and as this
     * workshop sees it.
     */
    curve: z.array(
      z.object({ used: z.number(), published: z.number(), own: z.number(), low: z.number(), high: z.number() }),
    ),
    /**
     * Median of the failures alone, over the published life: what a list of failures by itself would say; null without
     * any.
     */
    failuresAlone: z.number().nullable(),
  })
  .meta({ id: 'BenchDetail' });
export type BenchDetail = z.infer<typeof benchDetail>;
