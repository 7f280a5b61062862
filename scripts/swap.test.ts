import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/**
 * Makes databases as a command that was killed may have left them, lets the next one settle that, and tells which
 * stands then and whose words are in it. Runs as a process of its own, with a cluster of its own.
 */
const PROGRAM = `
import pg from 'pg';
import { databaseUrl, removeCluster, startCluster } from './scripts/cluster.ts';
import { baseIn, filledByOrdinaryRole, settle, swapIn } from './scripts/database.ts';
const cluster = await startCluster('test');
const on = async (name, ...questions) => {
  const client = new pg.Client({ connectionString: databaseUrl(cluster, name) });
  client.on('error', () => undefined);
  await client.connect();
  let rows = [];
  for (const question of questions) ({ rows } = await client.query(question));
  await client.end();
  return rows;
};
const there = async () => (await on('postgres', "select datname as name from pg_database where datname like 'crosspeen%' order by 1")).map(({ name }) => name);
const answers = [];
try {
  for (const { left, swap } of JSON.parse(process.argv[1])) {
    for (const name of await there()) await on('postgres', 'drop database "' + name + '" with (force)');
    for (const [name, people] of Object.entries(left)) {
      await on('postgres', 'create database "' + name + '"');
      await on(name, 'create table app_user (name text)', ...(people ? ["insert into app_user values ('" + name + "')"] : []));
    }
    if (swap) {
      const inside = new pg.Client({ connectionString: databaseUrl(cluster, 'crosspeen') });
      inside.on('error', () => undefined);
      await inside.connect();
      await swapIn(baseIn(cluster));
    } else await settle(baseIn(cluster));
    const names = await there();
    answers.push({ names, words: names.includes('crosspeen') ? (await on('crosspeen', 'select name from app_user')).map(({ name }) => name) : null });
  }
  const ask = async (url, question) => {
    const client = new pg.Client({ connectionString: url });
    await client.connect();
    try { return (await client.query(question)).rows; } catch (error) { return error.message; } finally { await client.end(); }
  };
  const base = baseIn(cluster);
  const filling = await filledByOrdinaryRole(base, 'crosspeen_restored', async (url) => ({
    role: await ask(url, "select rolsuper, rolcreatedb, rolcreaterole, current_user <> 'crosspeen' as other from pg_roles where rolname = current_user"),
    program: await ask(url, "copy (select 1) to program 'true'"),
    makes: await ask(url, 'create table app_user (name text)'),
    others: await ask(Object.assign(new URL(url), { pathname: '/crosspeen' }).href, 'select name from app_user'),
  }));
  const after = {
    owner: await on('crosspeen_restored', "select tableowner from pg_tables where tablename = 'app_user'"),
    database: await on('postgres', "select datdba::regrole::text as owner from pg_database where datname = 'crosspeen_restored'"),
    roles: await on('postgres', "select count(*)::int as n from pg_roles where rolname like '%filler'"),
  };
  answers.push({ filling, after });
} finally {
  await removeCluster('test');
}
process.stdout.write(JSON.stringify(answers));
`;

const CASES = [
  ['nothing at all', { left: {} }, { names: [], words: null }],
  [
    'the old moved away, the new not yet in its place',
    { left: { crosspeen_replaced: true, crosspeen_restored: true } },
    { names: ['crosspeen'], words: ['crosspeen_replaced'] },
  ],
  [
    'a whole new one alone',
    { left: { crosspeen_restored: true } },
    { names: ['crosspeen'], words: ['crosspeen_restored'] },
  ],
  ['half a new one alone', { left: { crosspeen_restored: false } }, { names: [], words: null }],
  ['a first start that did not come to its end', { left: { crosspeen_new: true } }, { names: [], words: null }],
  [
    'what stands, and leavings of every kind',
    { left: { crosspeen: true, crosspeen_new: true, crosspeen_restored: true, crosspeen_replaced: true } },
    { names: ['crosspeen'], words: ['crosspeen'] },
  ],
  [
    'a new one put in the place of one that somebody is in',
    { left: { crosspeen: true, crosspeen_restored: true }, swap: true },
    { names: ['crosspeen'], words: ['crosspeen_restored'] },
  ],
  [
    'a new one where there was none',
    { left: { crosspeen_restored: true, crosspeen: false }, swap: true },
    { names: ['crosspeen'], words: ['crosspeen_restored'] },
  ],
] as const;

let answers: unknown[] = [];
const state = mkdtempSync(join(tmpdir(), 'crosspeen-swap-'));
beforeAll(() => {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    ['--import', 'tsx', '--input-type=module', '-e', PROGRAM, JSON.stringify(CASES.map(([, left]) => left))],
    { cwd: join(__dirname, '..'), env: { ...process.env, CROSSPEEN_STATE: state }, encoding: 'utf8', timeout: 110_000 },
  );
  if (status !== 0) throw new Error(stderr);
  answers = JSON.parse(stdout) as unknown[];
});
afterAll(() => rmSync(state, { recursive: true, force: true }));

test.each(CASES.map(([words, , expected], at) => [words, at, expected] as const))(
  'of %s the workshop’s own database stands, and nothing beside it',
  (_words, at, expected) => {
    expect(answers[at]).toEqual(expected);
  },
);

test('a new database is filled by a role that owns it and nothing else, and belongs to the workshop’s afterwards', () => {
  expect(answers.at(-1)).toEqual({
    filling: {
      role: [{ rolsuper: false, rolcreatedb: false, rolcreaterole: false, other: true }],
      program: expect.stringMatching(/must be superuser or have privileges/) as string,
      makes: [],
      others: expect.stringMatching(/permission denied/) as string,
    },
    after: { owner: [{ tableowner: 'crosspeen' }], database: [{ owner: 'crosspeen' }], roles: [{ n: 0 }] },
  });
});
