import { resolve } from 'node:path';

// Where the data lies is settled before anything that reads it is loaded.
const given = process.argv.slice(2);
if (given[0] === '--folder' && given[1] !== undefined) {
  process.env['CROSSPEEN_STATE'] = resolve(process.env['CROSSPEEN_CALLED_FROM'] ?? '.', given[1]);
  given.splice(0, 2);
}
const { readArguments } = await import('./arguments.ts');
const { COMMANDS } = await import('./commands.ts');
const { Interrupted } = await import('./interrupt.ts');
const { UsageError, UserError } = await import('./places.ts');

const NONE = { words: [], flags: new Set<string>(), values: {} } as const;

/** Runs the command that the words name; answers the exit code: 0 done, 1 could not be done, 2 not understood. */
async function main([name = 'help', ...rest]: readonly string[]): Promise<number> {
  if (name === '--help' || name === '-h') return main(['help']);
  const command = Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined;
  if (!command) throw new UsageError(`There is no command “${name}”. ./crosspeen help lists them.`);
  // psql has a --help of its own.
  if (name !== 'psql' && rest.includes('--help')) {
    process.stdout.write(`./crosspeen ${name}${command.usage === '' ? '' : ` ${command.usage}`}\n  ${command.help}\n`);
    return 0;
  }
  return (await command.run(command.takes === null ? NONE : readArguments(name, command.takes, rest), rest)) ?? 0;
}

/** What the operating system refuses a person, in words: no place for a stack of our own. */
function systemWords(error: unknown): string | null {
  const { code, path } = error as NodeJS.ErrnoException;
  switch (code) {
    case 'ENOSPC':
      return 'The disk is full. Free some space and run this again.';
    case 'EACCES':
    case 'EPERM':
      return `This user may not write ${path ?? 'there'}. Choose another place, or change its owner.`;
    case 'ENOENT':
      return `There is no ${path ?? 'such file'}.`;
    case 'EISDIR':
      return `${path ?? 'That'} is a folder; name a file.`;
    case 'ENOTDIR':
      return `${path ?? 'That'} lies in something that is no folder.`;
    default:
      return null;
  }
}

// Whoever read along may stop reading (a pager that is closed, a terminal that is gone): that ends neither a command
// nor what it keeps running.
for (const stream of [process.stdout, process.stderr]) stream.on('error', () => undefined);

try {
  process.exitCode = await main(given);
} catch (error) {
  if (error instanceof Interrupted) {
    process.stderr.write(`${error.message}\n`);
    // What was under way may never come to an end now.
    process.exit(error.exitCode);
  }
  const words = error instanceof UserError ? error.message : systemWords(error);
  if (words === null) throw error;
  process.stderr.write(`${words}\n`);
  process.exitCode = error instanceof UsageError ? 2 : 1;
}
