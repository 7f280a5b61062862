import { spawn } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { dataHome } from './cluster.ts';
import { Interrupted, orInterrupted } from './interrupt.ts';
import { runToTheEnd } from './run.ts';

const ROOT = join(__dirname, '..');

test.each([
  ['SIGINT', 130],
  ['SIGTERM', 143],
] as const)('a command that is told to stop by %s ends its PostgreSQL and answers %d', async (signal, code) => {
  const state = mkdtempSync(join(tmpdir(), 'crosspeen-stop-'));
  // The user that PostgreSQL runs as has to get through.
  chmodSync(state, 0o711);
  const running = join(dataHome('test', state), 'postmaster.pid');
  const child = spawn(process.execPath, ['--import', 'tsx', 'scripts/main.ts', 'test', 'unit', 'no-such-test'], {
    cwd: ROOT,
    env: { ...process.env, CROSSPEEN_STATE: state },
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  let said = '';
  child.stderr.on('data', (data: Buffer) => {
    said += data.toString();
  });
  const ended = new Promise<number | null>((resolve) => {
    child.once('close', (exit) => resolve(exit));
  });
  while (!existsSync(running) && child.exitCode === null) await sleep(50);
  expect(existsSync(running)).toBe(true);
  child.kill(signal);
  expect(await ended).toBe(code);
  expect(said).toContain('Stopped.');
  expect(existsSync(running)).toBe(false);
  rmSync(state, { recursive: true, force: true });
});

test('what another command does is waited for, and ended where this one is told to stop', async () => {
  const node = (script: string): Promise<number> => runToTheEnd(process.execPath, ['-e', script], { stdio: 'ignore' });
  expect(await node('process.exit(3)')).toBe(3);
  await expect(runToTheEnd('/no/such/program', [])).rejects.toThrow('ENOENT');
  expect(await orInterrupted(Promise.resolve('done'))).toBe('done');
  await expect(orInterrupted(Promise.reject(new Error('broken')))).rejects.toThrow('broken');
  const under = node('setInterval(() => undefined, 1000)');
  await sleep(300);
  process.emit('SIGHUP');
  await expect(under).rejects.toThrow(new Interrupted(129));
  // From then on nothing is begun that is waited for.
  await expect(orInterrupted(sleep(60_000, null, { ref: false }))).rejects.toThrow('Stopped.');
});
