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

const whichOf = async ({ flags }: Pick<Given, 'flags'>) => (await import('./which.ts')).whichOf(flags);

async function announceDemo(address: string): Promise<void> {
  const { DEMO_ACCOUNTS } = await import('@crosspeen/demo');
  say(`\nCrosspeen is ready: ${address}\n`);
  say('Sign in with one of the demo accounts:');
  for (const { name, password, role } of DEMO_ACCOUNTS) say(`  ${name.padEnd(8)} ${password.padEnd(18)} ${role}`);
  say('\nCtrl-C stops it.');
}

async function demo({ values }: Given): Promise<void> {
  const port = portFrom(values['port'], '--port') ?? portFrom(process.env['CROSSPEEN_PORT'], 'CROSSPEEN_PORT');
  const [{ keep }, { ON_LOOPBACK }] = await Promise.all([import('./supervise.ts'), import('./hosting.ts')]);
  await keep({
    kind: 'demo',
    hosting: { ...ON_LOOPBACK, port },
    external: null,
    fill: async (url) => (await import('./seed.ts')).seedDemo(url, process.env['CROSSPEEN_NOW']),
    announce: announceDemo,
  });
}

async function announceShop(address: string, url: string): Promise<void> {
  const { newSetUpCode } = await import('./own-shop.ts');
  const code = await newSetUpCode(url);
  say(`\nCrosspeen is ready: ${address}\n`);
  if (code !== null) say(`Nobody is here yet. Open it and set your workshop up with this code:\n\n  ${code}\n`);
  say('Ctrl-C stops it; ./crosspeen start goes on where it was.');
}

async function start({ values }: Given): Promise<void> {
  const port = portFrom(values['port'], '--port') ?? portFrom(process.env['CROSSPEEN_PORT'], 'CROSSPEEN_PORT');
  // What was told wrong is said before anything that takes a while is loaded.
  const hosting = (await import('./hosting.ts')).hostingFrom(values, port);
  const { externalAddress, keepAddress } = await import('./which.ts');
  if (values['database'] !== undefined) {
    const { baseAt, mustReach } = await import('./database.ts');
    if (values['database'] !== 'private') await mustReach(baseAt(values['database']));
    keepAddress('shop', values['database'] === 'private' ? null : values['database']);
  }
  const [{ keep }, { prepareShop }] = await Promise.all([import('./supervise.ts'), import('./own-shop.ts')]);
  await keep({ kind: 'shop', hosting, external: externalAddress('shop'), fill: prepareShop, announce: announceShop });
}

/** Which of them run, or the one that is named. */
async function running({ flags }: Given): Promise<readonly ('demo' | 'shop')[]> {
  const { KINDS } = await import('./which.ts');
  const named = KINDS.filter((kind) => flags.has(kind));
  return named.length > 0 ? named : KINDS;
}

async function stop(given: Given): Promise<void> {
  const [{ stopWhole }, { NAMES }] = await Promise.all([import('./supervise.ts'), import('./which.ts')]);
  let any = false;
  for (const kind of await running(given)) {
    if (!(await stopWhole(kind))) continue;
    any = true;
    say(`Stopped ${NAMES[kind]}.`);
  }
  if (!any) say('Nothing was running.');
}

async function status(given: Given): Promise<void> {
  const [{ runningCluster }, { isHealthy, runningInstance }, { externalAddress, isHere, NAMES }] = await Promise.all([
    import('./cluster.ts'),
    import('./instance.ts'),
    import('./which.ts'),
  ]);
  for (const kind of await running(given)) {
    const [server, cluster, external] = [runningInstance(kind), runningCluster(kind), externalAddress(kind)];
    if (server === null && !isHere(kind)) {
      say(`${NAMES[kind]}: not here`);
      continue;
    }
    const answers = server !== null && (await isHealthy(server));
    say(`${NAMES[kind]}:`);
    say(
      server
        ? `  server      running, ${server.address} (process ${server.pid})${answers ? '' : '; it does not answer just now'}`
        : '  server      not running',
    );
    if (external !== null)
      say(`  PostgreSQL  ${new URL(external).host}${new URL(external).pathname}, looked after by others`);
    else
      say(
        cluster
          ? `  PostgreSQL  running on 127.0.0.1:${cluster.port} (process ${cluster.pid}), data in ${cluster.dataDir}`
          : '  PostgreSQL  not running',
      );
  }
}

async function logs(given: Given): Promise<number> {
  const [{ serverLog }, { runVisible }] = await Promise.all([import('./instance.ts'), import('./run.ts')]);
  const kind = await whichOf(given);
  const log = serverLog(kind);
  if (!existsSync(log)) throw new UserError(`There is no log of the ${kind} yet; start it first.`);
  return runVisible('tail', given.flags.has('f') ? ['-n', '40', '-F', log] : ['-n', '100', log]);
}

function help(): Promise<void> {
  say('./crosspeen COMMAND\n');
  for (const [name, { usage, help: text }] of Object.entries(COMMANDS))
    say(`  ${`${name}${usage === '' ? '' : ` ${usage}`}`.padEnd(20)} ${text}`);
  say(
    '\nA command ends with 0 when it is done, 1 when it could not be, 2 when it was not understood and nothing was done; psql ends as psql does.',
  );
  say('--help after any of them says what it takes; --folder DIR before it all works on the data that lies there.');
  return Promise.resolve();
}

const data = () => import('./data-commands.ts');
const BOTH = ['shop', 'demo'] as const;
const FILE = { words: ['file'], flags: [...BOTH] } as const;

export const COMMANDS: Readonly<Record<string, Command>> = {
  demo: {
    usage: '[--port PORT]',
    help: 'start with the demo data, on loopback, and keep it running; prints the address. CROSSPEEN_PORT says the port as well',
    takes: { values: ['port'] },
    run: demo,
  },
  start: {
    usage: '[--port PORT] [--host ADDRESS] [...]',
    help: 'start a workshop of your own, empty at first, and keep it running; docs/running.md tells of --host, --name, --tls-cert, --tls-key, --behind and --database',
    takes: { values: ['port', 'host', 'name', 'tls-cert', 'tls-key', 'behind', 'database'] },
    run: start,
  },
  stop: {
    usage: '[--shop|--demo]',
    help: 'stop the server and its PostgreSQL; both, where none is named',
    takes: { flags: [...BOTH] },
    run: stop,
  },
  status: { usage: '[--shop|--demo]', help: 'what is running, and where', takes: { flags: [...BOTH] }, run: status },
  logs: {
    usage: '[-f] [--shop|--demo]',
    help: "the server's log; -f follows it",
    takes: { flags: ['f', ...BOTH] },
    run: logs,
  },
  link: {
    usage: 'NAME [--shop|--demo]',
    help: 'a one-time link by which somebody who lost his password sets a new one',
    takes: { words: ['name'], flags: [...BOTH] },
    run: async (given) => (await data()).link(await whichOf(given), given.words[0]!),
  },
  psql: {
    usage: '[--shop|--demo] [ARGS]',
    help: 'a PostgreSQL prompt on the data',
    takes: null,
    run: async (_given, raw) => {
      const own = raw.filter((word) => BOTH.some((kind) => word === `--${kind}`));
      const kind = await whichOf({ flags: new Set(own.map((word) => word.slice(2))) });
      return (await data()).psql(
        kind,
        raw.filter((word) => !own.includes(word)),
      );
    },
  },
  backup: {
    usage: 'FILE [--shop|--demo]',
    help: 'save all data to a file: JSON lines, for any other program too',
    takes: FILE,
    run: async (given) => (await data()).backup(await whichOf(given), given.words[0]!),
  },
  load: {
    usage: 'FILE [--shop|--demo]',
    help: 'check a library pack and load it',
    takes: FILE,
    run: async (given) => (await data()).load(await whichOf(given), given.words[0]!),
  },
  restore: {
    usage: 'FILE [--shop|--demo]',
    help: 'replace all data by such a file',
    takes: FILE,
    run: async (given) => (await data()).restore(await whichOf(given), given.words[0]!),
  },
  reset: {
    usage: '[--yes] [--shop|--demo]',
    help: 'delete all data',
    takes: { flags: ['yes', ...BOTH] },
    run: async (given) => (await data()).reset(await whichOf(given), given.flags.has('yes')),
  },
  test: {
    usage: '[PART] [ARGS]',
    help: 'every check: types, boundaries, lint, unit, browser; or one of them, with what is left to its own program',
    takes: null,
    run: async (_given, raw) => (await import('./test.ts')).test([...raw]),
  },
  bench: {
    usage: 'NAME [PART ...]',
    help: 'figures: lookup, risk, calibration, intake, natures, walk, planner, plans, load, abuse; of abuse all parts, or those named',
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
    help: 'write docs/pack.schema.json and docs/openapi.json anew from the contract',
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
