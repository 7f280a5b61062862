import { JOB_ACTIONS, parseSpans } from '@crosspeen/core';
import { spansText } from './common.ts';

/**
 * What a maker or another authority lets workshops know: a bulletin asks for work, a coverage pays for it within a
 * window.
 */
export const NOTICE_KINDS = ['bulletin', 'coverage'] as const;
export type NoticeKind = (typeof NOTICE_KINDS)[number];
/** What answers it on one vehicle: a look (or a renewal), or a renewal alone. */
export const NOTICE_ASKS = JOB_ACTIONS;

/**
 * How long a coverage pays, in shorthand: years since first registration, km or miles on the meter, whichever first.
 */
export const coverLimits = spansText.superRefine((text, context) => {
  const parsed = parseSpans(text);
  if (parsed.ok && parsed.value.some(({ clock, from, to }) => clock === 'hours' || from !== to))
    context.addIssue({
      code: 'custom',
      message: 'must be one limit each in years or in km or mi, such as 10y | 200k km',
    });
});
