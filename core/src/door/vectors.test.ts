import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { answerLine } from './door.ts';

interface Case { in: unknown; out: unknown }
interface VectorFile { tolerance: Record<string, number>; cases: Case[] }

const load = (piece: string): VectorFile =>
  JSON.parse(readFileSync(join(__dirname, '../../vectors', `${piece}.json`), 'utf8')) as VectorFile;

const WORDS: Record<string, number> = { inf: Infinity, '-inf': -Infinity, nan: NaN };

function expectClose(actual: unknown, wanted: unknown, rel: number, abs: number, at: string): void {
  if (Array.isArray(wanted)) {
    expect({ at, length: (actual as unknown[]).length }).toEqual({ at, length: wanted.length });
    wanted.forEach((entry, i) => expectClose((actual as unknown[])[i], entry, rel, abs, `${at}[${i}]`));
  } else if (typeof wanted === 'number') {
    const near = typeof actual === 'number' && Math.abs(actual - wanted) <= abs + rel * Math.abs(wanted);
    if (!near) throw new Error(`${at}: got ${String(actual)}, wanted ${wanted}`);
  } else if (typeof wanted === 'string' && wanted in WORDS) {
    expect({ at, actual }).toEqual({ at, actual: wanted });
  } else if (typeof wanted === 'object' && wanted !== null) {
    for (const [key, entry] of Object.entries(wanted)) expectClose((actual as Record<string, unknown>)[key], entry, rel, abs, `${at}.${key}`);
  } else {
    expect({ at, actual }).toEqual({ at, actual: wanted });
  }
}

const PIECES = { 'life.elicit': 'elicitation', 'life.hazard': 'hazard', 'usage.path': 'usage', 'life.risk': 'conditional_risk', 'history.unknown': 'unknown_history' };

describe.each(Object.entries(PIECES))('%s against independently computed cases', (call, piece) => {
  const { cases: all, tolerance } = load(piece);
  // The nine-node approximation of the unknown history is another computation; the full renewal process is the one in use.
  const cases = all.filter((entry) => !(entry.in as { simple?: boolean }).simple);
  test.each(cases.map((entry, i) => [i, entry] as const))('case %i', (i, entry) => {
    const answer = JSON.parse(answerLine(JSON.stringify({ call, input: entry.in }))) as { output?: unknown; error?: unknown };
    expect(answer.error).toBeUndefined();
    expectClose(answer.output, entry.out, tolerance['rel'] ?? 0, tolerance['abs'] ?? 0, `${piece}[${i}]`);
  });
});
