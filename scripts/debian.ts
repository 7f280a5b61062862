import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { UserError } from './places.ts';
import { runQuiet } from './run.ts';

const isRoot = process.getuid?.() === 0;

/** Installs Debian packages as root or through sudo without a password; otherwise says which packages are missing. */
async function install(packages: readonly string[], what: string): Promise<void> {
  const message = `${what} is missing. Install it once as root, then run this again:\n  apt-get install --no-install-recommends ${packages.join(' ')}`;
  const prefix = isRoot ? [] : ['sudo', '-n'];
  if (!isRoot)
    await runQuiet('sudo', ['-n', 'true']).catch(() => {
      throw new UserError(message);
    });
  const apt = async (...args: string[]): Promise<string> => {
    const [command, ...rest] = [
      ...prefix,
      'env',
      'DEBIAN_FRONTEND=noninteractive',
      'apt-get',
      '-o',
      'DPkg::Lock::Timeout=300',
      ...args,
    ];
    return runQuiet(command!, rest);
  };
  process.stderr.write(`Installing ${packages.join(', ')} from Debian's packages ...\n`);
  try {
    await apt('update', '-qq');
    await apt('install', '-y', '-qq', '--no-install-recommends', ...packages);
  } catch (error) {
    throw new UserError(`${message}\n\nTrying it here failed: ${(error as Error).message}`);
  }
}

function findPostgres(): string | null {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return null;
  const versions = readdirSync(base)
    .filter((name) => existsSync(join(base, name, 'bin/initdb')))
    .sort((a, b) => Number(b) - Number(a));
  return versions[0] === undefined ? null : join(base, versions[0], 'bin');
}

/**
 * Folder of the PostgreSQL server's programs; installs Debian's server, without a cluster of its own, where there is
 * none.
 */
export async function postgresBin(): Promise<string> {
  const found = findPostgres();
  if (found !== null) return found;
  if (isRoot && !existsSync('/etc/postgresql-common/createcluster.conf')) {
    mkdirSync('/etc/postgresql-common', { recursive: true });
    writeFileSync('/etc/postgresql-common/createcluster.conf', 'create_main_cluster = false\n');
  }
  await install(['postgresql'], 'The PostgreSQL server');
  const installed = findPostgres();
  if (installed === null)
    throw new UserError(
      'PostgreSQL was installed, but its programs are not under /usr/lib/postgresql. Check the package and run this again.',
    );
  return installed;
}

/** Path of Debian's Chromium, for the browser tests and screenshots; installs it where it is missing. */
export async function chromiumPath(): Promise<string> {
  const path = '/usr/bin/chromium';
  if (!existsSync(path)) await install(['chromium'], 'Chromium');
  return path;
}
