import { existsSync, mkdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { type AbuseBench, type AbuseCount, Shop } from './abuse/shop.ts';
import { killsUnderWriting, killsOfReplacing, killsOfTheFirstStart, fullDisk } from './abuse/kills.ts';
import { brokenDownloads, poisonFiles } from './abuse/files.ts';
import { foreignFilesRestored, startsAtOnce } from './abuse/data.ts';
import { parallelGuesses, signInsAcrossResets, strangersAtTheDoor } from './abuse/doors.ts';
import { manySheets, photoBombs } from './abuse/loads.ts';
import { entriesThatWait } from './abuse/queue.ts';

/** What can be done to it, in this order, by the word that asks for it. */
export const ABUSES = {
  downloads: 'downloads broken off',
  files: 'poison files',
  passwords: 'passwords guessed at once',
  strangers: 'strangers guess, the owner comes in',
  resets: 'sign-ins across a reset',
  photos: 'photos that are too large',
  sheets: 'sheets by the ten',
  queue: 'entries that wait, over a line that is cut',
  server: 'server killed',
  database: 'database killed',
  starts: 'two starts on one empty database',
  restore: 'restore killed',
  foreign: 'foreign files restored',
  first: 'first start killed',
  disk: 'disk full',
} as const;

export type Abuse = keyof typeof ABUSES;

/**
 * Kills, breaks, poisons, guesses and fills, on request only; prints what was tried and what failed, and answers how
 * much failed.
 */
export async function abuseBench(
  bench: AbuseBench,
  ports: readonly [number, number, number],
  asked: ReadonlySet<Abuse>,
): Promise<number> {
  const { say, folder } = bench;
  const all: [Abuse, AbuseCount][] = [];
  const part = async (what: Abuse, work: () => Promise<AbuseCount>): Promise<void> => {
    if (!asked.has(what)) return;
    say(ABUSES[what]);
    const counted = await work();
    all.push([what, counted]);
    say(`  ${counted.tries} tries, ${counted.failures.length} failures`);
    for (const failure of counted.failures.slice(0, 10)) say(`  FAILED ${failure}`);
  };
  const shop = new Shop(bench, join(folder, 'shop'), ports[0]);
  mkdirSync(shop.state);
  try {
    if ((await shop.start()) === null) throw new Error('the shop that is to be abused does not start');
    await shop.signIn('owner');
    await part('downloads', () => brokenDownloads(shop));
    await part('files', () => poisonFiles(shop, folder, say));
    await part('passwords', () => parallelGuesses(shop, bench.accounts, say));
    await part('strangers', () => strangersAtTheDoor(shop, bench));
    await part('queue', () => entriesThatWait(shop, bench, bench.browser));
    await part('resets', () => signInsAcrossResets(shop, bench));
    await part('photos', () => photoBombs(shop, folder, say));
    await part('sheets', () => manySheets(shop, folder, say));
    await part('starts', () => startsAtOnce(shop, bench.program));
    await part('server', () => killsUnderWriting(shop, 'server', say));
    await part('database', () => killsUnderWriting(shop, 'database', say));
    const backup = join(folder, 'backup');
    const { code, text } = await shop.run(['backup', backup]);
    if (code !== 0 || !existsSync(backup) || statSync(backup).size === 0)
      throw new Error(`backup ends with ${code}: ${text}`);
    await shop.stop();
    await part('restore', () => killsOfReplacing(shop, backup));
    await part('foreign', () => foreignFilesRestored(shop, folder, backup));
  } finally {
    await shop.stop();
  }
  await part('first', () => killsOfTheFirstStart(bench, join(folder, 'first'), ports[1]));
  await part('disk', () => fullDisk(bench, ports[2]));
  const failures = all.reduce((sum, [, { failures: found }]) => sum + found.length, 0);
  const kills = all.filter(([what]) => ABUSES[what].endsWith('killed')).reduce((sum, [, { tries }]) => sum + tries, 0);
  say(`\n${kills} kills, ${all.reduce((sum, [, { tries }]) => sum + tries, 0)} tries in all, ${failures} failures`);
  return failures;
}
