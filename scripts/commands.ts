import { existsSync } from 'node:fs';
import { portFrom, type Given, type Takes } from './arguments.ts';
import { UserError } from './places.ts';

// What a command works with is imported when it runs: the others, and the list of them, start without the core, the
// database layer and the demo world.

export interface Command {
  /** What may follow the word, as people write it. */
  readonly usage: string;
  readonly help: string;
  /** What is understood after the word; null leaves all of it to another program. */
  readonly takes: Takes | null;
  /** Resolves to the exit code; 0 when left out. */
  readonly run: (given: Given, raw: readonly string[]) => Promise<number | void>;
}

const say = (line: string): void => {
  process.stdout.write(`${line}\n`);
};

async function announce(port: number): Promise<void> {
  const { DEMO_ACCOUNTS } = await import('@crosspeen/demo');
  say(`\nCrosspeen is ready: http://127.0.0.1:${port}\n`);
  say('Sign in with one of the demo accounts:');
  for (const { name, password, role } of DEMO_ACCOUNTS) say(`  ${name.padEnd(8)} ${password.padEnd(18)} ${role}`);
  say('\nCtrl-C stops it.');
}

async function demo({ values }: Given): Promise<void> {
  const port = portFrom(values['port'], '--port') ?? portFrom(process.env['CROSSPEEN_PORT'], 'CROSSPEEN_PORT');
  await (await import('./supervise.ts')).demo(port, announce);
}

async function stop(): Promise<void> {
  say((await (await import('./supervise.ts')).stopDemo()) ? 'Stopped.' : 'Nothing was running.');
}

async function status(): Promise<void> {
  const [{ runningCluster }, { isHealthy, runningInstance }] = await Promise.all([
    import('./cluster.ts'),
    import('./instance.ts'),
  ]);
  const [server, cluster] = [runningInstance('demo'), runningCluster('demo')];
  const answers = server !== null && (await isHealthy(server));
  say(
    server
      ? `server      running, http://127.0.0.1:${server.port} (process ${server.pid})${answers ? '' : '; it does not answer just now'}`
      : 'server      not running',
  );
  say(
    cluster
      ? `PostgreSQL  running on 127.0.0.1:${cluster.port} (process ${cluster.pid}), data in ${cluster.dataDir}`
      : 'PostgreSQL  not running',
  );
}

async function logs({ flags }: Given): Promise<number> {
  const [{ serverLog }, { runVisible }] = await Promise.all([import('./instance.ts'), import('./run.ts')]);
  const log = serverLog('demo');
  if (!existsSync(log)) throw new UserError('There is no log yet; start the demo first.');
  return runVisible('tail', flags.has('f') ? ['-n', '40', '-F', log] : ['-n', '100', log]);
}

function help(): Promise<void> {
  say('./crosspeen COMMAND\n');
  for (const [name, { usage, help: text }] of Object.entries(COMMANDS))
    say(`  ${`${name}${usage === '' ? '' : ` ${usage}`}`.padEnd(20)} ${text}`);
  say(
    '\nA command ends with 0 when it is done, 1 when it could not be, 2 when it was not understood and nothing was done; psql ends as psql does.',
  );
  say('--help after any of them says what it takes.');
  return Promise.resolve();
}

const data = () => import('./data-commands.ts');
const FILE = { words: ['file'] } as const;

export const COMMANDS: Readonly<Record<string, Command>> = {
  demo: {
    usage: '[--port PORT]',
    help: 'start with the demo data, on loopback, and keep it running; prints the address. CROSSPEEN_PORT says the port as well',
    takes: { values: ['port'] },
    run: demo,
  },
  stop: { usage: '', help: 'stop the server and its PostgreSQL', takes: {}, run: stop },
  status: { usage: '', help: 'what is running, and where', takes: {}, run: status },
  logs: { usage: '[-f]', help: "the server's log; -f follows it", takes: { flags: ['f'] }, run: logs },
  psql: {
    usage: '[ARGS]',
    help: 'a PostgreSQL prompt on the data',
    takes: null,
    run: async (_given, raw) => (await data()).psql(raw),
  },
  backup: {
    usage: 'FILE',
    help: 'save all data to a file',
    takes: FILE,
    run: async ({ words }) => (await data()).backup(words[0]!),
  },
  load: {
    usage: 'FILE',
    help: 'check a library pack and load it',
    takes: FILE,
    run: async ({ words }) => (await data()).load(words[0]!),
  },
  restore: {
    usage: 'FILE',
    help: 'replace all data by a saved file',
    takes: FILE,
    run: async ({ words }) => (await data()).restore(words[0]!),
  },
  export: {
    usage: 'FILE',
    help: 'save all data as JSON lines, for any other program',
    takes: FILE,
    run: async ({ words }) => (await data()).exportAll(words[0]!),
  },
  import: {
    usage: 'FILE',
    help: 'replace all data by such a file',
    takes: FILE,
    run: async ({ words }) => (await data()).importAll(words[0]!),
  },
  reset: {
    usage: '[--yes]',
    help: 'delete all data',
    takes: { flags: ['yes'] },
    run: async ({ flags }) => (await data()).reset(flags.has('yes')),
  },
  test: {
    usage: '[PART] [ARGS]',
    help: 'every check: types, boundaries, lint, unit, browser; or one of them, with what is left to its own program',
    takes: null,
    run: async (_given, raw) => (await import('./test.ts')).test([...raw]),
  },
  bench: {
    usage: 'NAME [PART ...]',
    help: 'figures: lookup, risk, calibration, intake, natures, load, abuse; of abuse all parts, or those named',
    takes: { words: ['name'], many: true },
    run: async ({ words: [name, ...parts] }) => (await import('./bench.ts')).bench(name!, parts),
  },
  screenshots: {
    usage: '[NAME ...] [--to DIR]',
    help: 'make docs/screenshots anew from the demo data',
    takes: { many: true, values: ['to'] },
    run: async ({ words, values }) => (await import('./screenshots.ts')).screenshots(words, values['to']),
  },
  schema: {
    usage: '',
    help: 'write docs/pack.schema.json anew from the contract',
    takes: {},
    run: async () => (await import('./schema.ts')).writeSchema(),
  },
  core: {
    usage: '',
    help: "the core's door: JSON requests a line in, answers a line out",
    takes: {},
    run: async () => (await import('./core.ts')).coreDoor(),
  },
  help: { usage: '', help: 'this list', takes: {}, run: help },
};
