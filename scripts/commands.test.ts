import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const ROOT = join(__dirname, '..');
const run = (args: readonly string[], input = ''): { code: number | null; out: string; err: string } => {
  const { status, stdout, stderr } = spawnSync(process.execPath, ['--import', 'tsx', 'scripts/main.ts', ...args], {
    cwd: ROOT,
    input,
    encoding: 'utf8',
    timeout: 60_000,
  });
  return { code: status, out: stdout, err: stderr };
};
const file = (text: string): string => {
  const path = join(mkdtempSync(join(tmpdir(), 'crosspeen-')), 'file.json');
  writeFileSync(path, text);
  return path;
};

test('help names every command of the README', () => {
  const { code, out } = run(['help']);
  expect(code).toBe(0);
  for (const name of [
    'demo',
    'start',
    'link',
    'stop',
    'status',
    'logs',
    'psql',
    'backup',
    'restore',
    'reset',
    'load',
    'test',
    'bench',
    'screenshots',
    'core',
  ])
    expect(out).toMatch(new RegExp(`^  ${name}`, 'm'));
});

test.each([
  [['demo', '--port', '80'], /between 1024 and 65535/, 2],
  [['demo', '--poort', '8080'], /does not understand “--poort”/, 2],
  [['start', '--port', '80'], /between 1024 and 65535/, 2],
  [['start', '--host', '0.0.0.0'], /could read passwords/, 2],
  [['start', '--behind', '127.0.0.1'], /--name/, 2],
  [['start', '--database', 'postgres'], /looks like postgres:/, 1],
  [['stop', '--shop', 'now'], /takes nothing after it/, 2],
  [['backup', '--shop', '--demo', 'a.dump'], /not both; nothing was done/, 2],
  [['demo', 'now'], /takes nothing after it; “now”/, 2],
  [['reset', '--yes', '--dry'], /does not understand.*nothing was done/, 2],
  [['stop', '--force'], /does not understand/, 2],
  [['backup', 'a', 'b'], /takes one word after it/, 2],
  [['demo', '--port'], /needs a value/, 2],
  [['frobnicate'], /no command “frobnicate”/, 2],
  [['constructor'], /no command/, 2],
  [['backup'], /Name the file/, 2],
  [['restore', '/no/such/file'], /There is no file/, 1],
  [['reset'], /reset --demo --yes/, 1],
  [['bench', 'nothing'], /bench lookup/, 2],
  [['test', 'everything'], /no test part/, 2],
  [['screenshots', 'nothing'], /no picture/, 2],
  [['load', '/no/such/pack.json'], /There is no file/, 1],
  [['restore', '/'], /is a folder/, 1],
] as const)('%j says what to do instead', (args, message, code) => {
  const answer = run(args);
  expect(answer.err).toMatch(message);
  expect(answer.code).toBe(code);
  expect(answer.err).not.toMatch(/at .*\.ts:\d+/);
});

test('a command whose reader goes away ends as it would have', () => {
  const { status, stderr } = spawnSync(
    'bash',
    ['-c', 'set -o pipefail; "$0" --import tsx scripts/main.ts help | (exec <&-; sleep 4)', process.execPath],
    { cwd: ROOT, encoding: 'utf8', timeout: 60_000 },
  );
  expect({ status, stderr }).toEqual({ status: 0, stderr: '' });
});

test('a command asked for help tells what it does and does nothing', () => {
  const { code, out } = run(['reset', '--yes', '--help']);
  expect(code).toBe(0);
  expect(out).toMatch(/reset \[--yes\] \[--shop\|--demo\]\n {2}delete all data/);
});

test('a pack that is none is refused with the place of each fault, before anything is started', () => {
  expect(run(['load', file('{')]).err).toMatch(/is no JSON/);
  expect(run(['load', file('[1,\n2')]).err).toMatch(/line 2: a closing bracket/);
  const { err, code } = run([
    'load',
    file(
      JSON.stringify({
        format: 'crosspeen-pack',
        formatVersion: 1,
        key: 'X y',
        title: '',
        version: '1',
        licence: 'l',
        makers: [],
        authorities: [],
        components: [],
        families: [{}],
      }),
    ),
  ]);
  expect(code).toBe(1);
  expect(err).toMatch(/Nothing was written/);
  expect(err).toMatch(/ {2}line 1, key: must be lower-case words/);
  expect(err).toMatch(/ {2}line 1, families\.0/);
});

test('the core’s door answers a line for every line, in order, and goes on after a bad one', () => {
  const lines = [
    '{"call":"life.elicit","input":{"kind":"median","median":258000,"beta":5.24}}',
    'nonsense',
    '',
    '{"call":"life.hazard","input":{"z":[0],"dz":[1],"beta":[2],"eta":[1e12],"pi":1}}',
  ];
  const { out, code } = run(['core'], `${lines.join('\n')}\n`);
  const answers = out
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as { output?: { eta?: number; q?: number }; error?: { code: string } });
  expect(code).toBe(0);
  expect(answers).toHaveLength(3);
  expect(answers[0]!.output!.eta).toBeCloseTo(276_691.9514619799, 6);
  expect(answers[1]!.error!.code).toBe('bad_json');
  expect(answers[2]!.output!.q).toBeCloseTo(1e-24, 30);
});
