import { COMMANDS } from './commands.ts';
import { UserError } from './places.ts';

const [name = 'help', ...args] = process.argv.slice(2);
const command = Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined;
if (!command) {
  process.stderr.write(`There is no command “${name}”. ./crosspeen help lists them.\n`);
  process.exit(2);
}
if (args.includes('--help') && name !== 'psql') {
  process.stdout.write(`./crosspeen ${command.usage}\n  ${command.help}\n`);
  process.exit(0);
}
if (args.length > 0 && command.usage === name) {
  process.stderr.write(`./crosspeen ${name} takes nothing after it; “${args.join(' ')}” is not understood.\n`);
  process.exit(2);
}
try {
  process.exitCode = (await command.run(args)) ?? 0;
} catch (error) {
  if (!(error instanceof UserError)) throw error;
  process.stderr.write(`${error.message}\n`);
  process.exitCode = 1;
}
