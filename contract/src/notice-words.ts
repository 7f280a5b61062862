import { JOB_ACTIONS, parseSpans } from '@crosspeen/core';
import { spansText } from './common.ts';

/**
 * Kinds of a notice of a maker or another authority: a bulletin asks for work, a coverage pays for
 * it within a window.
 */
export const NOTICE_KINDS = ['bulletin', 'coverage'] as const;
export type NoticeKind = (typeof NOTICE_KINDS)[number];
/** Work that answers a notice on one vehicle: a look (or a renewal), or a renewal alone. */
export const NOTICE_ASKS = JOB_ACTIONS;

/**
 * Length of a coverage in shorthand: years since first registration, km or miles on the meter,
 * whichever first.
 */
export const coverLimits = spansText.superRefine((text, context) => {
  const parsed = parseSpans(text);
  if (parsed.ok && parsed.value.some(({ clock, from, to }) => clock === 'hours' || from !== to))
    context.addIssue({
      code: 'custom',
      message: 'must be one limit each in years or in km or mi, such as 10y | 200k km',
    });
});
