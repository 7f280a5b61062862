const BROWSERS = [
  [/Edg\//, 'Edge'],
  [/Firefox\//, 'Firefox'],
  [/Chrome\//, 'Chrome'],
  [/Safari\//, 'Safari'],
] as const;
const SYSTEMS = [
  [/iPad/, 'iPad'],
  [/iPhone/, 'iPhone'],
  [/Android/, 'Android'],
  [/Windows/, 'Windows'],
  [/Mac OS/, 'Mac'],
  [/Linux/, 'Linux'],
] as const;

/** A browser's own description in two words: which browser, on what. */
export function browserOf(agent: string | null): string {
  const found = (table: readonly (readonly [RegExp, string])[]): string | undefined =>
    table.find(([pattern]) => pattern.test(agent ?? ''))?.[1];
  const [browser, system] = [found(BROWSERS), found(SYSTEMS)];
  return browser === undefined ? 'A browser' : `${browser}${system === undefined ? '' : ` on ${system}`}`;
}
