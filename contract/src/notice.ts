import { AUTHORITY_KINDS } from '@crosspeen/core';
import { z } from 'zod';
import { CALL_OUTCOMES, campaignRow } from './library.ts';
import {
  authorityId,
  inOrder,
  isoDate,
  noticeId,
  optionalText,
  paging,
  rowVersion,
  searchText,
  shortText,
  weakPointId,
} from './common.ts';
import { coverLimits, NOTICE_ASKS, NOTICE_KINDS } from './notice-words.ts';

export const noticeDraft = z
  .object({
    kind: z.enum(NOTICE_KINDS),
    authorityId: authorityId.nullable(),
    newAuthority: z.object({ name: shortText(80), kind: z.enum(AUTHORITY_KINDS) }).nullable(),
    number: shortText(40),
    title: shortText(120),
    words: shortText(1000),
    issued: isoDate,
    asks: z.enum(NOTICE_ASKS),
    points: z.array(weakPointId).min(1, { message: 'choose at least one weak point it is about' }).max(40),
    producedFrom: isoDate.nullable(),
    producedTo: isoDate.nullable(),
    covers: coverLimits.nullable(),
    endsOn: isoDate.nullable(),
  })
  .superRefine((value, context) => {
    if ((value.authorityId === null) === (value.newAuthority === null))
      context.addIssue({ code: 'custom', path: ['authorityId'], message: 'choose who says it, or name somebody new' });
    inOrder(
      { from: value.producedFrom, to: value.producedTo },
      ['producedTo'],
      context,
      'must not lie before the first production date',
    );
    if (value.kind === 'coverage' && value.covers === null && value.endsOn === null)
      context.addIssue({
        code: 'custom',
        path: ['covers'],
        message: 'say how long it pays, such as 10y | 200k km, or on which day it ends',
      });
    if (value.kind === 'bulletin' && (value.covers !== null || value.endsOn !== null))
      context.addIssue({
        code: 'custom',
        path: ['kind'],
        message: 'a bulletin pays for nothing; make it a coverage, or leave its limits out',
      });
  });
export type NoticeDraft = z.infer<typeof noticeDraft>;
export const noticeUpdate = z.object({ draft: noticeDraft, version: rowVersion });
export const NOTICE_STATES = ['current', 'withdrawn'] as const;
export const noticeStep = z.object({ state: z.enum(NOTICE_STATES), version: rowVersion });

export const noticeQuery = paging.extend({ q: searchText });
export const noticeRow = z.object({
  id: noticeId,
  kind: z.enum(NOTICE_KINDS),
  authority: z.string(),
  number: z.string(),
  title: z.string(),
  issued: isoDate,
  state: z.enum(NOTICE_STATES),
  engines: z.array(z.string()),
  vehicles: z.int(),
});
export type NoticeRow = z.infer<typeof noticeRow>;

export const notice = z
  .object({
    row: noticeRow,
    authorityId,
    authorityKind: z.enum(AUTHORITY_KINDS),
    words: z.string(),
    asks: z.enum(NOTICE_ASKS),
    producedFrom: isoDate.nullable(),
    producedTo: isoDate.nullable(),
    covers: z.string().nullable(),
    endsOn: isoDate.nullable(),
    /** Models it is about; none named: all. */
    models: z.array(z.string()),
    /** Part of the cost that a coverage pays; null: all of it. */
    pays: z.number().nullable(),
    version: rowVersion,
    writtenBy: z.string().nullable(),
    pack: z.string().nullable(),
    points: z.array(z.object({ id: weakPointId, title: z.string(), maker: z.string(), engineCode: z.string() })),
  })
  .meta({ id: 'Notice' });
export type Notice = z.infer<typeof notice>;

/**
 * A vehicle that a notice touches: whether the work has been done since, and until when a coverage pays for it at the
 * forecast use.
 */
export const noticeCampaignRow = campaignRow.extend({
  answered: z.boolean(),
  coveredUntil: isoDate.nullable(),
  covered: z.boolean().nullable(),
});
export type NoticeCampaignRow = z.infer<typeof noticeCampaignRow>;

/** A call to the keeper of a vehicle about a weak point or a notice. */
export const callDraft = z
  .object({
    vehicleId: z.uuid(),
    weakPointId: weakPointId.nullable(),
    noticeId: noticeId.nullable(),
    day: isoDate,
    outcome: z.enum(CALL_OUTCOMES),
    note: optionalText(400),
  })
  .refine((value) => (value.weakPointId === null) !== (value.noticeId === null), {
    message: 'a call is about one weak point or one notice',
    path: ['weakPointId'],
  });
export type CallDraft = z.infer<typeof callDraft>;
