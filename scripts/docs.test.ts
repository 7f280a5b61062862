import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const ROOT = join(__dirname, '..');
const ROOMS = ['core', 'contract', 'server', 'web', 'demo', 'e2e', 'bench', 'scripts', 'docs'];

/** Files and folders that a page names between backticks, from the project's folder on. */
const named = (page: string): string[] =>
  [...readFileSync(join(ROOT, page), 'utf8').matchAll(/`([\w.-]+\/[\w./-]*)`/g)]
    .map(([, path]) => path!)
    .filter((path) => ROOMS.includes(path.split('/')[0]!));

test.each(['docs/architecture.md', 'README.md'])('%s names only what is there', (page) => {
  const gone = named(page).filter(
    (path) => !['', '.ts', '.tsx'].some((ending) => existsSync(join(ROOT, `${path}${ending}`))),
  );
  expect(gone).toEqual([]);
});

test('the page of the rooms names enough of them to find one’s way', () =>
  expect(named('docs/architecture.md').length).toBeGreaterThan(60));
