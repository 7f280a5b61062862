import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { logFile } from './log-file.ts';

const folder = (): string => mkdtempSync(join(tmpdir(), 'crosspeen-log-'));

test('a log that has grown is put aside, and only so many older ones are kept', () => {
  const at = folder();
  const log = logFile(join(at, 'log'), { bytes: 100, kept: 2 });
  for (let n = 0; n < 40; n += 1) log.write(`${String(n).padStart(9)}\n`);
  log.close();
  expect(readdirSync(at).sort()).toEqual(['log', 'log.1', 'log.2']);
  for (const name of readdirSync(at)) expect(statSync(join(at, name)).size).toBeLessThanOrEqual(100);
  expect(readFileSync(join(at, 'log'), 'utf8')).toContain('39');
  expect(statSync(join(at, 'log')).mode & 0o777).toBe(0o600);
});

test('what was there before a start goes on', () => {
  const path = join(folder(), 'log');
  for (const line of ['one\n', 'two\n']) {
    const log = logFile(path);
    log.write(line);
    log.close();
  }
  expect(readFileSync(path, 'utf8')).toBe('one\ntwo\n');
});

test('while nothing can be written nobody is stopped, and what was lost is told when there is space again', () => {
  const at = folder();
  const path = join(at, 'not', 'yet', 'there');
  let now = 0;
  const log = logFile(path, undefined, () => now);
  for (let n = 0; n < 5; n += 1) log.write('lost\n');
  expect(existsSync(path)).toBe(false);
  now = 2000;
  mkdirSync(join(at, 'not', 'yet'), { recursive: true });
  log.write('kept\n');
  log.close();
  expect(readFileSync(path, 'utf8')).toMatch(/"5 lines were lost: nothing could be written".*\nkept\n$/);
});

test('a disk that is full, as the system tells it', () => {
  const log = logFile('/dev/full');
  expect(() => {
    for (let n = 0; n < 3; n += 1) log.write('x\n');
  }).not.toThrow();
  log.close();
});
