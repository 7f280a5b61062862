import { ProblemError } from '../api/client.ts';
import { cameOf } from './came-of.ts';

const problem = (status: number, code: string, isOurs: boolean): ProblemError =>
  new ProblemError({ type: 'about:blank', title: 't', status, code: code as never, detail: 'why' }, isOurs);

test.each([
  ['our own 400', problem(400, 'bad_input', true), 'refused'],
  ['our own 404', problem(404, 'not_found', true), 'refused'],
  ['our own 401', problem(401, 'sign_in_required', true), 'signed_out'],
  ['our own 429', problem(429, 'too_many_tries', true), 'unreachable'],
  ['our own 503', problem(503, 'database_away', true), 'unreachable'],
  ['a page of an earlier sign-in', problem(403, 'stale_page', true), 'unreachable'],
  ['an access point’s 403', problem(403, 'unexpected', false), 'unreachable'],
  ['a proxy’s 407', problem(407, 'unexpected', false), 'unreachable'],
  ['a gateway’s 502', problem(502, 'unexpected', false), 'unreachable'],
  ['an HTML page where JSON was asked for', new SyntaxError('Unexpected token <'), 'unreachable'],
])('%s: %#', (_, error, came) => expect(cameOf(error).came).toBe(came));
