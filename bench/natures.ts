import {
  DAYS_PER_YEAR,
  CONSEQUENCES,
  judgeVehicle,
  usagePath,
  type JudgedRow,
  type OutlookInput,
  type OutlookPolicy,
  type VehicleFacts,
  type WeakPointFact,
} from '@crosspeen/core';
import { DEFAULT_SETTINGS, policyOf } from '@crosspeen/server';

/** What a library knows of one engine, as far as lives go. */
export interface EngineKnown {
  readonly code: string;
  readonly interference: boolean;
  readonly variants: readonly { readonly key: string; readonly name: string }[];
  readonly weakPoints: readonly WeakPointFact[];
  readonly operations: readonly { readonly key: string; readonly minutes: number; readonly needs: readonly string[] }[];
}

/** What must never be: each names the vehicle it was seen on. */
export interface NatureFaults {
  readonly asked: number;
  /** Wear whose chance falls while it is not renewed. */
  readonly falling: readonly string[];
  /** Worn originals called "Behind it". */
  readonly behind: readonly string[];
  /** Belts older than any book on an engine whose valves hit the pistons, left to run. */
  readonly leftToRun: readonly string[];
}

const TODAY = 20_780;
const STEP_KM = 10_000;
const FROM_KM = 60_000;
const TO_KM = 350_000;
const KM_A_YEAR = 15_000;
/** A belt is ancient from here on, whatever any window says. */
const ANCIENT = { km: 250_000, years: 16 } as const;
const CALLED_IN: readonly JudgedRow['verdict'][] = ['hold', 'renew'];

const isBelt = ({ componentKey, group }: WeakPointFact): boolean => group === 'timing' && /belt/.test(componentKey);

function judged(
  { weakPoints }: EngineKnown,
  variants: VehicleFacts['variants'],
  km: number,
  policy: OutlookPolicy,
): readonly JudgedRow[] {
  const years = km / KM_A_YEAR;
  const start = TODAY - years * DAYS_PER_YEAR;
  const input: OutlookInput = {
    today: TODAY,
    path: usagePath([{ day: TODAY, km }], start, KM_A_YEAR / DAYS_PER_YEAR),
    engine: null,
    rateSpread: 0.2,
    severity: 1,
    duty: {},
    counted: false,
    choices: [],
    findings: [],
    tasks: [],
    upkeep: [],
    weakPoints,
    policy,
    facts: { variants, model: null, market: null, producedDay: null, producedSlackDays: 0, features: {} },
    services: [...new Set(weakPoints.map(({ componentKey }) => componentKey))].map((componentKey) => ({
      componentKey,
      certainty: 'not_done',
      day: null,
      grade: 'original',
      revision: null,
      source: null,
      cameOut: null,
    })),
  };
  return judgeVehicle(input).rows;
}

/**
 * Every engine and variant, all its parts known never to be renewed, from 60 to 350 thousand km at 15,000 km a year, in
 * every school for the first figure and in the shop's own for the last: what a practitioner would not sign.
 */
export function natureFaults(engines: readonly EngineKnown[]): NatureFaults {
  const policy = policyOf(DEFAULT_SETTINGS);
  const [falling, behind, leftToRun]: [string[], string[], string[]] = [[], [], []];
  let asked = 0;
  for (const engine of engines) {
    for (const variant of engine.variants) {
      const before = new Map<string, number>();
      for (let km = FROM_KM; km <= TO_KM; km += STEP_KM) {
        for (const row of judged(engine, [{ ...variant, howToTell: null, weight: 1 }], km, policy)) {
          const { weakPoint, chance, verdict } = row;
          if (weakPoint.nature === 'defect') continue;
          asked += 1;
          const where = `${engine.code} ${variant.key}, ${weakPoint.key} at ${km} km`;
          if (chance < (before.get(weakPoint.key) ?? 0) - 1e-9) falling.push(where);
          before.set(weakPoint.key, chance);
          if (verdict === 'behind_it') behind.push(where);
          const ancient = km >= ANCIENT.km && km / KM_A_YEAR >= ANCIENT.years;
          if (
            ancient &&
            engine.interference &&
            isBelt(weakPoint) &&
            weakPoint.consequence === CONSEQUENCES[0] &&
            !CALLED_IN.includes(verdict)
          ) {
            leftToRun.push(`${where}: ${verdict}`);
          }
        }
      }
    }
  }
  return { asked, falling, behind, leftToRun };
}

/** Prints the three figures, each of which must be none. */
export function naturesBench(engines: readonly EngineKnown[], say: (line: string) => void): void {
  const { asked, falling, behind, leftToRun } = natureFaults(engines);
  say(
    `${engines.length} engines, every variant, all known never renewed, ${FROM_KM / 1000} to ${TO_KM / 1000} thousand km at ${KM_A_YEAR.toLocaleString('en')} km a year: ${asked.toLocaleString('en')} chances of what wears`,
  );
  for (const [what, found] of [
    ['chances that fall', falling],
    ['originals called “Behind it”', behind],
    ['ancient belts with valve contact left to run', leftToRun],
  ] as const) {
    say(`${what.padEnd(46)} ${found.length}${found.length === 0 ? '' : `, such as ${found[0]!}`}`);
  }
}
