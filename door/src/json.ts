export type Json = null | boolean | number | string | readonly Json[] | { readonly [key: string]: Json };

/** One call of the door: a checked object in, a plain value out. */
export type Call = (input: Record<string, Json>) => unknown;

/** A request the door cannot answer: `code` for programs, the message for people. */
export class DoorError extends Error {
  constructor(
    readonly code: 'bad_json' | 'bad_input' | 'unknown_call',
    message: string,
  ) {
    super(message);
  }
}

const bad = (name: string, want: string): never => {
  throw new DoorError('bad_input', `${name} must be ${want}`);
};

/** A JSON object, or a bad_input error naming the field. */
export function asObject(value: Json | undefined, name: string): Record<string, Json> {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return bad(name, 'an object');
  return value as Record<string, Json>;
}

export function asArray(value: Json | undefined, name: string): readonly Json[] {
  return Array.isArray(value) ? (value as readonly Json[]) : bad(name, 'a list');
}

export function asText(value: Json | undefined, name: string): string {
  return typeof value === 'string' ? value : bad(name, 'text');
}

const SPELLED: Readonly<Record<string, number>> = { inf: Infinity, '-inf': -Infinity, nan: NaN };

/** A number, or one of the words inf, -inf, nan. */
export function asNumber(value: Json | undefined, name: string): number {
  if (typeof value === 'number') return value;
  if (typeof value === 'string' && Object.hasOwn(SPELLED, value)) return SPELLED[value]!;
  return bad(name, 'a number');
}

export const numbers = (value: Json | undefined, name: string): number[] =>
  asArray(value, name).map((entry) => asNumber(entry, name));

export function pair(value: Json | undefined, name: string): [number, number] {
  const list = numbers(value, name);
  if (list.length !== 2) return bad(name, 'pairs of two numbers');
  return [list[0]!, list[1]!];
}

/** A field that must be there. */
export function field(input: Record<string, Json>, name: string): Json {
  return Object.hasOwn(input, name) ? input[name]! : bad(name, 'given');
}

/** A field that may be left out or null. */
export function optional(input: Record<string, Json>, name: string): Json | undefined {
  const value = Object.hasOwn(input, name) ? input[name] : undefined;
  return value === null ? undefined : value;
}
