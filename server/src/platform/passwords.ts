import { hash, verify } from '@node-rs/argon2';
import { FAULTS } from '@crosspeen/contract';
import type { ZxcvbnFactory } from '@zxcvbn-ts/core';
import { createHash, randomBytes } from 'node:crypto';
import { Turns } from './turns.ts';

/** Passwords checked at once: a hash is slow by intent, and others want the processor too. */
const HASHES_AT_ONCE = 2;
/** Checks that may wait for their turn; who comes then is asked to come again. */
const MOST_WAITING = 40;
/** Of 0 to 4: from here on a password withstands a guesser who has its hash for a while (zxcvbn's scale). */
const LEAST_SCORE = 3;

/**
 * A hash nobody's password has: checking it takes as long as a real one, so that a name cannot be guessed by the clock.
 */
const NOBODY = '$argon2id$v=19$m=19456,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$RdescudvJCsgt3ub+b27R0PpE4K2QFVaIHkOTlLm9dI';

const turns = new Turns(HASHES_AT_ONCE, MOST_WAITING);

/** Argon2id hash of a password or a PIN. Throws busy while too many are being made. */
export const hashed = (password: string): Promise<string> => turns.run(() => hash(password));

/** Whether a password is the one of a hash; without a hash it takes as long and is not. Throws busy. */
export const fits = async (known: string | null, password: string): Promise<boolean> =>
  (await turns.run(() => verify(known ?? NOBODY, password).catch(() => false))) && known !== null;

let guesser: Promise<ZxcvbnFactory> | undefined;

/** The dictionaries take a tenth of a second to load, and most servers never see a password chosen. */
async function loadGuesser(): Promise<ZxcvbnFactory> {
  const [core, common] = await Promise.all([import('@zxcvbn-ts/core'), import('@zxcvbn-ts/language-common')]);
  return new core.ZxcvbnFactory({ dictionary: common.dictionary, graphs: common.adjacencyGraphs });
}

/**
 * What is wrong with a password that somebody chooses, or null: one that stands on the list of common ones, or is soon
 * guessed by whoever knows the name and the shop in `known`.
 */
export async function weaknessOf(password: string, known: readonly string[]): Promise<string | null> {
  guesser ??= loadGuesser();
  const { score, sequence } = (await guesser).check(
    password,
    known.flatMap((words) => [words.toLowerCase(), ...words.toLowerCase().split(/\s+/)]),
  );
  if (score >= LEAST_SCORE) return null;
  const listed = sequence.some(
    ({ pattern, token, ...found }) =>
      pattern === 'dictionary' &&
      token.length > password.length / 2 &&
      (found as { dictionaryName?: string }).dictionaryName?.startsWith('passwords'),
  );
  return listed ? FAULTS.commonPassword : FAULTS.weakPassword;
}

/** A secret that nobody guesses: of a link, of a tablet. */
export const newToken = (): string => randomBytes(24).toString('base64url');

/** What is kept of a secret that nobody guesses: a plain digest does, since there is nothing to guess. */
export const digestOf = (token: string): string => createHash('sha256').update(token).digest('base64url');

const LETTERS = '23456789ABCDEFGHJKLMNPQRSTUVWXYZ';

/** A code that people read off one screen and type on another: 8 signs in two groups, none of them alike. */
export function newCode(): string {
  const signs = [...randomBytes(8)].map((byte) => LETTERS[byte % LETTERS.length]!);
  return `${signs.slice(0, 4).join('')}-${signs.slice(4).join('')}`;
}

/** A typed code as it is compared: capitals, nothing between the groups. */
export const bareCode = (typed: string): string => typed.toUpperCase().replace(/[^A-Z0-9]/g, '');
