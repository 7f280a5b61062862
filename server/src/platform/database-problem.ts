import { FAULTS, SAID } from '@crosspeen/contract';
import { Problem } from './problem.ts';

/** What a row that would stand twice means to the person who wrote it, by the database's own name for the rule. */
const STANDS_TWICE: Readonly<Record<string, () => Problem>> = {
  vehicle_plate: () => new Problem('plate_taken'),
  notice_number: () => taken('number', FAULTS.numberOnFile),
  engine_family_code_key_key: () => taken('code', FAULTS.codeOfAnother),
  part_number_key: () => taken('number', FAULTS.partOfAnother),
  visit_job_once: () => taken('jobs', FAULTS.pointOnce),
  change_undoes_key: () => new Problem('already_undone'),
  library_change_undoes_key: () => new Problem('already_undone'),
  school_choice_once: () => new Problem('busy'),
  fleet_run_one: () => new Problem('busy'),
};

const taken = (path: string, message: string): Problem => new Problem('taken', { fields: [{ path, message }] });

interface DriverError {
  readonly code?: unknown;
  readonly constraint?: unknown;
  readonly message?: unknown;
  readonly driverError?: unknown;
}

/**
 * Codes of the operating system and of PostgreSQL (appendix A of its manual) that say that it cannot be reached, or is
 * going down.
 */
const AWAY = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ENOTFOUND',
  'ETIMEDOUT',
  '57P01',
  '57P02',
  '57P03',
  // There is none of that name: one is being put in the place of another.
  '3D000',
  '08000',
  '08001',
  '08003',
  '08004',
  '08006',
]);
// The driver gives these two no code of their own.
const NO_CONNECTION_IN_TIME = 'timeout exceeded when trying to connect';
const CONNECTION_LOST = /^(Connection terminated|Client has encountered a connection error)/;

/** Whether a failure means that the database is away for the moment: the same thing may go through later. */
export function databaseIsAway(error: unknown): boolean {
  const inner = innermost(error);
  return (
    AWAY.has(String(inner.code)) ||
    (typeof inner.message === 'string' &&
      (CONNECTION_LOST.test(inner.message) || inner.message === NO_CONNECTION_IN_TIME))
  );
}

const asDriverError = (error: unknown): DriverError => (typeof error === 'object' && error !== null ? error : {});
const innermost = (error: unknown): DriverError => {
  const outer = asDriverError(error);
  return outer.driverError === undefined ? outer : asDriverError(outer.driverError);
};

/** Whether a transaction was ended so that another could go on (deadlock, serialisation): it may be begun again. */
export const hadToGiveWay = (error: unknown): boolean => ['40P01', '40001'].includes(String(innermost(error).code));

/** Whether the rows that were to be written are at fault themselves (classes 22 and 23): others may go through. */
export const rowsAtFault = (error: unknown): boolean => /^2[23]/.test(String(innermost(error).code));

/** What a failure of the database means to whoever asked; null when it is none that is expected. */
export function databaseProblem(error: unknown): Problem | null {
  const { code, constraint, message } = innermost(error);
  if (message === NO_CONNECTION_IN_TIME) return new Problem('busy');
  if (databaseIsAway(error)) return new Problem('database_away');
  switch (code) {
    case '23505':
      return STANDS_TWICE[String(constraint)]?.() ?? new Problem('taken');
    case '23503':
      return new Problem(SAID.referredGone);
    case '22021':
    case '22P05':
      return new Problem(SAID.characterNotKept);
    case '22003':
    case '22007':
    case '22008':
    case '22P02':
    case '23514':
      return new Problem(SAID.outsideOfWhatIsKept);
    case '40001':
    case '40P01':
    case '53300':
    case '55P03':
      return new Problem('busy');
    case '57014':
      return new Problem('took_too_long');
    // 58030: PostgreSQL could not write; on this machine that is a disk without space.
    case '53100':
    case '58030':
      return new Problem('no_space');
    default:
      return null;
  }
}
