import { z } from 'zod';

/** Every expected failure by its code; `errors.ts` has what is said of each. */
export const ERROR_CODES = [
  'bad_input',
  'sign_in_required',
  'wrong_sign_in',
  'wrong_pin',
  'wrong_code',
  'set_up_already',
  'link_used',
  'no_tablet',
  'tablet_locked',
  'not_at_tablet',
  'last_owner',
  'not_allowed',
  'stale_page',
  'line_incomplete',
  'doubtful',
  'not_found',
  'changed_meanwhile',
  'plate_taken',
  'taken',
  'already_undone',
  'changed_since',
  'in_use',
  'bad_file',
  'visit_closed',
  'unsupported_media',
  'headers_too_large',
  'wrong_host',
  'too_large',
  'too_many_tries',
  'busy',
  'database_away',
  'took_too_long',
  'no_space',
  'unexpected',
] as const;
export type ErrorCode = (typeof ERROR_CODES)[number];

/** Words for an unexpected failure, also for an answer that cannot be read. */
export const UNEXPECTED =
  'Something went wrong on our side. Nothing was saved; try again, and tell the owner if it happens twice.';

/**
 * Problem details (RFC 9457) with the catalogue's code, the fields at fault and, for a conflict, the row as it is now.
 */
export const problemDetails = z
  .object({
    type: z.string(),
    title: z.string(),
    status: z.int(),
    code: z.enum(ERROR_CODES),
    detail: z.string(),
    fields: z.array(z.object({ path: z.string(), message: z.string() })).optional(),
    current: z.unknown().optional(),
  })
  .meta({ id: 'Problem' });
export type ProblemDetails = z.infer<typeof problemDetails>;
