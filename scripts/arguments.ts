import { parseArgs, type ParseArgsConfig } from 'node:util';
import { UsageError } from './places.ts';

type ParseArgsOptionDescriptor = NonNullable<ParseArgsConfig['options']>[string];

/** Words and flags that a command takes; what is not named here is not understood. */
export interface Takes {
  /** Names of the words that must follow, in order. */
  readonly words?: readonly string[];
  /** Any number of words may follow. */
  readonly many?: boolean;
  /** Flags that are there or not, such as yes for --yes; one letter for -f. */
  readonly flags?: readonly string[];
  /** Flags with a value, such as port for --port 8470. */
  readonly values?: readonly string[];
}

export interface Given {
  readonly words: readonly string[];
  readonly flags: ReadonlySet<string>;
  readonly values: Readonly<Record<string, string>>;
}

/**
 * Reads what stands after a command's name. Throws UsageError naming what is not understood, before anything is done.
 */
export function readArguments(
  name: string,
  { words = [], many = false, flags = [], values = [] }: Takes,
  given: readonly string[],
): Given {
  const options: NonNullable<ParseArgsConfig['options']> = Object.fromEntries<ParseArgsOptionDescriptor>([
    ...flags.map((flag) => [flag, { type: 'boolean', ...(flag.length === 1 ? { short: flag } : {}) }] as const),
    ...values.map((value) => [value, { type: 'string' }] as const),
  ]);
  let parsed: ReturnType<typeof parseArgs>;
  try {
    parsed = parseArgs({ args: [...given], options, allowPositionals: true, strict: true });
  } catch (error) {
    const what = given.find((word) => word.startsWith('-')) ?? '';
    const missing = (error as { code?: string }).code === 'ERR_PARSE_ARGS_INVALID_OPTION_VALUE';
    throw new UsageError(
      missing
        ? `./crosspeen ${name}: ${what} needs a value, or takes none.`
        : `./crosspeen ${name} does not understand “${what}”; nothing was done.`,
    );
  }
  const { positionals } = parsed;
  const most = many ? Infinity : words.length;
  if (positionals.length > most)
    throw new UsageError(
      `./crosspeen ${name} takes ${most === 0 ? 'nothing' : most === 1 ? 'one word' : `${most} words`} after it; “${positionals.slice(most).join(' ')}” is not understood, and nothing was done.`,
    );
  if (positionals.length < words.length)
    throw new UsageError(
      `Name ${words
        .slice(positionals.length)
        .map((word) => `the ${word}`)
        .join(' and ')}: ./crosspeen ${name} ${words.map((word) => word.toUpperCase()).join(' ')}`,
    );
  const found = Object.entries(parsed.values);
  return {
    words: positionals,
    flags: new Set(found.filter(([, value]) => value === true).map(([flag]) => flag)),
    values: Object.fromEntries(found.filter((entry): entry is [string, string] => typeof entry[1] === 'string')),
  };
}

/** A port from a flag or a variable of the environment. Throws UsageError when it is none. */
export function portFrom(text: string | undefined, where: string): number | undefined {
  if (text === undefined || text === '') return undefined;
  const port = Number(text);
  if (!/^\d+$/.test(text) || port < 1024 || port > 65_535)
    throw new UsageError(`${where} must be a port between 1024 and 65535, not “${text}”.`);
  return port;
}
