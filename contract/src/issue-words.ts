import { z } from 'zod';

type Issue = Parameters<NonNullable<z.core.$ZodConfig['customError']>>[0];

const figure = (value: unknown): string =>
  typeof value === 'number' || typeof value === 'bigint' ? value.toLocaleString('en') : String(value);

/** Expected types in plain words. */
const KIND_WORDS: Readonly<Record<string, string>> = {
  string: 'text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  array: 'a list',
  object: 'a group of fields',
  record: 'a group of fields',
  null: 'left empty',
  date: 'a date',
};

function received(input: unknown): string {
  if (input === null) return 'empty';
  if (Array.isArray(input)) return 'a list';
  if (typeof input === 'number' && !Number.isFinite(input)) return 'no number';
  return KIND_WORDS[typeof input] ?? 'something else';
}

/** Units of what has a size: characters of text, entries of a list, nothing beside a number. */
const SIZE_WORDS: Readonly<Record<string, string>> = {
  string: ' characters',
  array: ' entries',
  set: ' entries',
  map: ' entries',
  file: ' bytes',
};

const FORMAT_WORDS: Readonly<Record<string, string>> = {
  uuid: 'must be an id',
  datetime: 'must be a date with a time, such as 2026-10-31T08:00:00Z',
  date: 'must be a date, such as 2026-10-31',
};

/**
 * Sentence about the problem of a field and its mend, from the issue's code. This is the only place
 * in which a schema's finding becomes a sentence; a schema with its own message keeps it.
 */
function issueWords(issue: Issue): string | undefined {
  switch (issue.code) {
    case 'invalid_type':
      return issue.input === undefined
        ? 'is missing'
        : `must be ${KIND_WORDS[issue.expected] ?? issue.expected}, not ${received(issue.input)}`;
    case 'too_small': {
      if (issue.origin === 'string' && issue.minimum === 1) return 'must not be empty';
      return `must ${SIZE_WORDS[issue.origin] ? 'have' : 'be'} ${issue.inclusive === false ? 'more than' : 'at least'} ${figure(issue.minimum)}${SIZE_WORDS[issue.origin] ?? ''}`;
    }
    case 'too_big':
      return `must ${SIZE_WORDS[issue.origin] ? 'have' : 'be'} ${issue.inclusive === false ? 'less than' : 'at most'} ${figure(issue.maximum)}${SIZE_WORDS[issue.origin] ?? ''}`;
    case 'not_multiple_of':
      return issue.divisor === 1 ? 'must be a whole number' : `must be a multiple of ${figure(issue.divisor)}`;
    case 'invalid_value':
      return `must be ${issue.values.length === 1 ? '' : 'one of '}${issue.values.map(String).join(', ')}`;
    case 'invalid_format':
      return FORMAT_WORDS[issue.format] ?? 'has a form that is not known here';
    case 'unrecognized_keys':
      return `has ${issue.keys.length === 1 ? 'a field that is' : 'fields that are'} not known here: ${issue.keys.join(', ')}`;
    case 'invalid_key':
      return 'has a name that cannot be used here';
    case 'invalid_element':
      return 'has an entry that cannot be used here';
    case 'invalid_union':
      return 'has a form that is not known here';
    default:
      return undefined;
  }
}

// Every schema speaks so, wherever it is used: on the wire, in files, in forms and commands.
z.config({ customError: issueWords });
