import { spawn, type SpawnOptions } from 'node:child_process';
import { UserError } from './places.ts';

/** Runs a command with this terminal's input and output; resolves to its exit code. */
export function runVisible(command: string, args: readonly string[], options: SpawnOptions = {}): Promise<number> {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { stdio: 'inherit', ...options });
    child.once('error', reject);
    child.once('exit', (code, signal) => resolve(code ?? (signal ? 1 : 0)));
  });
}

/** Runs a command quietly; resolves to what it printed. Throws UserError with its last lines when it fails. */
export function runQuiet(command: string, args: readonly string[], options: SpawnOptions = {}): Promise<string> {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { ...options, stdio: ['ignore', 'pipe', 'pipe'] });
    let out = '';
    let all = '';
    child.stdout.on('data', (data: Buffer) => {
      out += data.toString();
      all += data.toString();
    });
    child.stderr.on('data', (data: Buffer) => {
      all += data.toString();
    });
    child.once('error', reject);
    child.once('close', (code) => {
      if (code === 0) resolve(out);
      else
        reject(
          new UserError(
            `${command} ${args.slice(0, 3).join(' ')} failed:\n${all.trim().split('\n').slice(-15).join('\n')}`,
          ),
        );
    });
  });
}
