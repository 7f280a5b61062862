import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { answerLine } from './answer-line.ts';

interface Case {
  in: unknown;
  out: unknown;
}
interface VectorFile {
  tolerance: Record<string, number>;
  cases: Case[];
}

const load = (piece: string): VectorFile =>
  JSON.parse(readFileSync(join(import.meta.dirname, '../../core/vectors', `${piece}.json`), 'utf8')) as VectorFile;

const WORDS: Record<string, number> = { inf: Infinity, '-inf': -Infinity, nan: NaN };

function expectClose(
  actual: unknown,
  wanted: unknown,
  { rel, abs }: { readonly rel: number; readonly abs: number },
  at: string,
): void {
  if (Array.isArray(wanted)) {
    expect({ at, length: (actual as unknown[]).length }).toEqual({ at, length: wanted.length });
    wanted.forEach((entry, i) => expectClose((actual as unknown[])[i], entry, { rel, abs }, `${at}[${i}]`));
  } else if (typeof wanted === 'number') {
    const near = typeof actual === 'number' && Math.abs(actual - wanted) <= abs + rel * Math.abs(wanted);
    if (!near) throw new Error(`${at}: got ${String(actual)}, wanted ${wanted}`);
  } else if (typeof wanted === 'string' && wanted in WORDS) {
    expect({ at, actual }).toEqual({ at, actual: wanted });
  } else if (typeof wanted === 'object' && wanted !== null) {
    for (const [key, entry] of Object.entries(wanted))
      expectClose((actual as Record<string, unknown>)[key], entry, { rel, abs }, `${at}.${key}`);
  } else {
    expect({ at, actual }).toEqual({ at, actual: wanted });
  }
}

/** Calls, their cases, and for outputs that are judged apart their own tolerances: [relative, absolute] by field. */
const PIECES: readonly (readonly [
  call: string,
  judged: {
    piece: string;
    apart?: Readonly<Record<string, readonly [rel: number, abs: number]>>;
    leaveOut?: readonly string[];
  },
])[] = [
  ['life.elicit', { piece: 'elicitation' }],
  ['life.elicit', { piece: 'wear' }],
  ['life.hazard', { piece: 'hazard' }],
  ['usage.path', { piece: 'usage' }],
  ['life.risk', { piece: 'conditional_risk' }],
  ['history.unknown', { piece: 'unknown_history' }],
  ['history.unknown', { piece: 'unknown_failed' }],
  ['upkeep.clock', { piece: 'upkeep' }],
  ['access.minutes', { piece: 'labour' }],
  ['triage.next', { piece: 'triage' }],
  ['visits.deferral', { piece: 'deferral_cost' }],
  // The optimum is flat: its age is judged at 1e-5, the cost rate at it at 1e-8.
  [
    'schools.ageReplacement',
    {
      piece: 'age_replacement',
      apart: { T_opt: [1e-5, 0], g_opt: [1e-8, 0], g_rtf: [1e-9, 0], g: [1e-9, 0], g_part: [1e-9, 0], intS: [1e-9, 0] },
    },
  ],
  ['schools.cadence', { piece: 'cadence' }],
  ['experience.logLikelihood', { piece: 'obs_loglik' }],
  // The estimates of the other programs stand beside ours in the file; both are compared within the digits they agree
  // to.
  ['experience.fit', { piece: 'mle', apart: { mle: [1e-5, 1e-6] }, leaveOut: ['independent'] }],
  // With the share fixed its spread is 0; the file keeps the rounding of its own program.
  ['experience.posterior', { piece: 'posterior', apart: { stage1: [1e-8, 1e-12], stage2: [1e-8, 1e-12] } }],
];

describe.each(PIECES)('%s against independently computed cases', (call, { piece, apart = {}, leaveOut = [] }) => {
  const { cases, tolerance } = load(piece);
  test.each(cases.map((entry, i) => [i, entry] as const))('case %i', (i, entry) => {
    const answer = JSON.parse(answerLine(JSON.stringify({ call, input: entry.in }))) as {
      output?: Record<string, unknown>;
      error?: unknown;
    };
    expect(answer.error).toBeUndefined();
    for (const [field, wanted] of Object.entries(entry.out as object)) {
      if (leaveOut.includes(field)) continue;
      const [rel, abs] = apart[field] ?? [tolerance['rel'] ?? 0, tolerance['abs'] ?? 0];
      expectClose(answer.output![field], wanted, { rel, abs }, `${piece}[${i}].${field}`);
    }
  });
});

/** What is read only where something else asks for it, and so may be anything in a case that does not. */
const UNREAD = 'unread';

describe.each(PIECES)('%s names the field that is wrong', (call, { piece }) => {
  const { cases } = load(piece);
  const ask = (input: object): { output?: unknown; error?: { code: string; message: string } } =>
    JSON.parse(answerLine(JSON.stringify({ call, input }))) as never;
  // A case each of the same fields: they are read in the same way.
  const kinds = [
    ...new Map(cases.map((entry) => [Object.keys(entry.in as object).join(), entry.in as object])).values(),
  ];
  test.each(kinds)('%j', (given) => {
    const sound = JSON.stringify(ask(given));
    const said = Object.entries(given).map(([name, value]) => {
      if (typeof value === 'boolean') return UNREAD;
      const wrong = typeof value === 'object' && !Array.isArray(value) ? 5 : { none: true };
      const { error } = ask({ ...given, [name]: wrong });
      if (error === undefined) return UNREAD;
      expect(error.code).toBe('bad_input');
      expect(error.message).toMatch(new RegExp(`^${name} must be |^${name} and .* need |, got "\\[object`));
      const gone = ask(Object.fromEntries(Object.entries(given).filter(([other]) => other !== name)));
      if (gone.error !== undefined) expect(gone.error.message).toBe(`${name} must be given`);
      return name;
    });
    expect(said.filter((name) => name !== UNREAD).length).toBeGreaterThan(0);
    expect(JSON.stringify(ask(given))).toBe(sound);
  });
});
