/**
 * What the engine must be or do for a look or a check, from what harms least to what harms most: standing still, turned
 * by the starter, running, or driven.
 */
export const ENGINE_STATES = ['off', 'cranking', 'running', 'driven'] as const;
export type EngineState = (typeof ENGINE_STATES)[number];

/** States that a report or a suspect may forbid: whoever stands still harms nothing. */
export const FORBIDDABLE = ['cranking', 'running', 'driven'] as const;
export type Forbiddable = (typeof FORBIDDABLE)[number];

/** What a look or a check needs of the vehicle. */
export interface NeedsFact {
  readonly engine: EngineState;
  /** Cold: before the first start of the day. Warm: after a drive. */
  readonly heat?: 'cold' | 'warm' | undefined;
  /** On a lift or on stands. */
  readonly lifted?: boolean | undefined;
}

/** Needs of a look or a check of which nothing is told. */
export const STANDING_STILL: NeedsFact = { engine: 'off' };

/** Everything that is forbidden once some states are: what may not run is not driven either. */
export const forbiddenWith = (states: Iterable<Forbiddable>): ReadonlySet<Forbiddable> => {
  const all = new Set(states);
  if (all.has('running')) all.add('driven');
  return all;
};

/** What a report forbids: what is told, and driving where the vehicle must stop. */
export const forbidsWhile = (forbids: readonly Forbiddable[], stop: string | null): readonly Forbiddable[] =>
  stop === null || forbids.includes('driven') ? forbids : [...forbids, 'driven'];

/** Tells whether a look or a check with these needs is allowed. */
export const isAllowed = ({ engine }: NeedsFact, forbidden: ReadonlySet<Forbiddable>): boolean =>
  engine === 'off' || !forbidden.has(engine);

const LEFT_OUT_WORDS: Readonly<Record<EngineState, string>> = {
  off: 'an engine at rest',
  cranking: 'the starter',
  running: 'a running engine',
  driven: 'a drive',
};
/** Interface text is English, whatever figures are written like. */
const EITHER = new Intl.ListFormat('en', { type: 'disjunction' });

/** Why checks are left out, given what each of them needs; empty where none is. */
export const leftOutWords = (states: readonly EngineState[]): string =>
  states.length === 0
    ? ''
    : `${states.length === 1 ? 'One check is left out: it needs' : `${states.length} checks are left out: they need`} ${EITHER.format(
        [...new Set(states)].map((state) => LEFT_OUT_WORDS[state]),
      )}. That could do harm until the cause is found.`;

/** What is needed of the engine, cold, warm, or as it is. */
const ENGINE_WORDS: Readonly<Record<EngineState, Readonly<Record<'cold' | 'warm' | 'any', string | null>>>> = {
  off: { cold: 'cold engine', warm: 'warm engine, switched off', any: null },
  cranking: { cold: 'cold, turned by the starter', warm: 'warm, turned by the starter', any: 'turned by the starter' },
  running: { cold: 'cold start', warm: 'warm and running', any: 'engine running' },
  driven: { cold: 'driven from cold', warm: 'driven warm', any: 'driven for it' },
};

/** What a look or a check needs, in words; empty where it is made standing still, whatever the heat. */
export const needsWords = ({ engine, heat, lifted }: NeedsFact): string =>
  [ENGINE_WORDS[engine][heat ?? 'any'], lifted ? 'on the lift' : null].filter((one) => one !== null).join(', ');
