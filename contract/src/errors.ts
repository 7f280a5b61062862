import { UNEXPECTED, type ErrorCode } from './problem.ts';

/** Every expected failure: HTTP status and the default message with the mend. `docs/errors.md` explains each. */
export const ERRORS = {
  bad_input: {
    status: 400,
    message: 'Something in the form cannot be used as it is. The fields named below say what to change.',
  },
  sign_in_required: { status: 401, message: 'Sign in first; what you typed is kept.' },
  wrong_sign_in: { status: 401, message: 'This name and password do not go together. Check both and try again.' },
  wrong_pin: { status: 401, message: 'This PIN does not go with this name. Check both and try again.' },
  wrong_code: {
    status: 403,
    message: 'This is not the code that the start command printed last. Read it there and type it again.',
  },
  set_up_already: { status: 409, message: 'This workshop was set up already. Sign in, or ask its owner to add you.' },
  link_used: {
    status: 410,
    message: 'This link was used, replaced by a newer one, or is over. Ask the owner for a new one.',
  },
  no_tablet: {
    status: 403,
    message: 'This browser is no bay tablet of the workshop any more. Sign in with name and password.',
  },
  tablet_locked: {
    status: 403,
    message: 'Too many wrong PINs were typed: this tablet is locked. Sign in here with name and password to open it.',
  },
  not_at_tablet: {
    status: 403,
    message: 'This is not done at a bay tablet. Sign in with name and password on your own device.',
  },
  last_owner: {
    status: 409,
    message: 'The workshop needs an active owner with a password. Make somebody else an owner first.',
  },
  not_allowed: { status: 403, message: 'Your role may not do this. Ask the owner of the workshop.' },
  stale_page: { status: 403, message: 'This page is from an earlier sign-in. Reload it and do it again.' },
  line_incomplete: {
    status: 422,
    message: 'The line cannot be answered yet. The fields named below say what to add or change in it.',
  },
  doubtful: {
    status: 422,
    message: 'Something is out of the ordinary. If it is as you wrote it, send it again as it is.',
  },
  not_found: { status: 404, message: 'This was removed. Go back to the list and choose again.' },
  changed_meanwhile: {
    status: 409,
    message: 'Somebody else changed this since you opened it. Compare both and save again.',
  },
  plate_taken: {
    status: 409,
    message: 'A vehicle with this plate is saved already. Open that one, or correct the plate.',
  },
  taken: {
    status: 409,
    message: 'Something with this name, number or key is there already. Open that one, or choose another.',
  },
  already_undone: { status: 409, message: 'This was undone already; nothing was changed a second time.' },
  changed_since: {
    status: 409,
    message: 'It was changed again after that, so it can no longer be undone. Undo the later change first.',
  },
  in_use: {
    status: 409,
    message:
      'Records on vehicles rest on something that came with this change, so it can no longer be taken back. Take those records back first.',
  },
  bad_file: {
    status: 400,
    message: 'This file cannot be imported as it is. The places named below say what to change; nothing was written.',
  },
  visit_closed: { status: 409, message: 'This visit is done or called off. Undo that first.' },
  unsupported_media: {
    status: 415,
    message:
      'The request carries something of a kind that is not read here. Send JSON, or a file where a file is asked for.',
  },
  headers_too_large: {
    status: 431,
    message: 'The address or the cookies are longer than is read here. Shorten the address, or sign in again.',
  },
  wrong_host: {
    status: 421,
    message: 'This workshop is not reached under that name. Use the address it was started with.',
  },
  too_large: { status: 413, message: 'This is more than one request may carry. Send less at once.' },
  too_many_tries: { status: 429, message: 'Too many wrong passwords. Wait as long as is said here and try again.' },
  busy: {
    status: 503,
    message: 'More is being asked at once than can be answered. Wait a moment and try again; nothing was saved.',
  },
  database_away: {
    status: 503,
    message:
      'The database does not answer just now. Nothing was saved; it is tried again by itself, so try again in a moment.',
  },
  took_too_long: {
    status: 503,
    message: 'This took longer than anybody waits and was stopped; nothing was saved. Ask for less at once.',
  },
  no_space: {
    status: 507,
    message: 'The disk is full, so nothing can be saved. Free some space on it; the work goes on by itself then.',
  },
  unexpected: { status: 500, message: UNEXPECTED },
} as const satisfies Record<ErrorCode, { status: number; message: string }>;
