import {
  DAYS_PER_YEAR,
  failureCost,
  KEPT_DAYS,
  outlook,
  renewalCost,
  usagePath,
  type FindingFact,
  type Outlook,
  type OutlookInput,
  type OutlookPolicy,
  type OutlookRow,
  type ServiceFact,
  type Verdict,
} from '@crosspeen/core';
import type { EngineKnown } from './natures.ts';
import { planFaults, plannedPart } from './plan-faults.ts';

/** What one part is told of its past, and what was found at it. */
const HISTORIES = ['no record', 'never renewed', 'renewed lately', 'renewed', 'renewed cheaply'] as const;
const FINDINGS = ['nothing', 'good', 'worn', 'failed'] as const;
type History = (typeof HISTORIES)[number];
type Found = (typeof FINDINGS)[number];

const TODAY = 20_780;
const RATES = [8000, 25_000] as const;
const READINGS = [20_000, 60_000, 90_000, 120_000, 160_000, 200_000, 250_000, 320_000] as const;
/** Readings at which visits are planned too, and the months of a plan and of a purchase sheet. */
const PLANNED_AT: ReadonlySet<number> = new Set([90_000, 160_000, 250_000]);
const PLAN_MONTHS = 36;
const BOUGHT_MONTHS = 24;
/** Money of the owner's half day for a visit, minor units. */
const VISIT_OWNER_COST = 8000;
/** A look was made so many days ago. */
const FOUND_AGO = 15;
/** A late renewal was so many days ago, any other this part of the life of the vehicle. */
const LATELY = 180;
const RENEWED_AGO = 0.2;

/** How much a decision asks for; a ride costs a visit as little as a look does. */
const ASKS: Readonly<Record<Verdict, number>> = {
  hold: 3,
  renew: 2,
  look: 1,
  ride_along: 1,
  watch: 1,
  run_on: 0,
  behind_it: 0,
};

/** The nine things that no decision may do. */
export const DECISION_FAULTS = [
  'a good look asks for more',
  'a worn look asks for less',
  'more distance asks for less',
  'a record of a renewal makes it worse',
  'a cheap part is better than an original',
  'a look without a look',
  'a renewal dearer than leaving it',
  'a ride without a job',
  'row, plan and purchase sheet disagree',
] as const;
export type DecisionFault = (typeof DECISION_FAULTS)[number];

export interface DecisionCount {
  readonly asked: number;
  readonly faults: ReadonlyMap<DecisionFault, readonly string[]>;
}

const serviceOf = (componentKey: string, history: History, start: number): ServiceFact[] => {
  if (history === 'no record') return [];
  const told = { componentKey, revision: null, source: null, cameOut: null } as const;
  if (history === 'never renewed') return [{ ...told, certainty: 'not_done', day: null, grade: 'original' }];
  const ago = history === 'renewed lately' ? LATELY : RENEWED_AGO * (TODAY - start);
  const grade = history === 'renewed cheaply' ? 'cheap' : 'original';
  return [{ ...told, certainty: 'done', day: Math.round(TODAY - ago), grade }];
};

const findingOf = (weakPointId: string, found: Found): FindingFact[] =>
  found === 'nothing'
    ? []
    : [
        {
          weakPointId,
          day: TODAY - FOUND_AGO,
          result: found === 'good' ? 'sound' : found,
          broughtIn: false,
          sinceDay: null,
        },
      ];

/** One vehicle of the grid: all its parts have the same past, and the same was found at each. */
export function gridInput(
  { weakPoints }: EngineKnown,
  variant: EngineKnown['variants'][number],
  {
    km,
    rate,
    history,
    found,
  }: { readonly km: number; readonly rate: number; readonly history: History; readonly found: Found },
  policy: OutlookPolicy,
): OutlookInput {
  const start = TODAY - (km / rate) * DAYS_PER_YEAR;
  return {
    today: TODAY,
    path: usagePath([{ day: TODAY, km }], start, rate / DAYS_PER_YEAR),
    engine: null,
    rateSpread: 0.2,
    severity: 1,
    duty: {},
    counted: false,
    choices: [],
    findings: weakPoints.flatMap(({ id }) => findingOf(id, found)),
    tasks: [],
    upkeep: [],
    weakPoints,
    policy,
    facts: {
      variants: [{ ...variant, howToTell: null, weight: 1 }],
      model: null,
      market: null,
      producedDay: null,
      producedSlackDays: 0,
      features: {},
    },
    services: [...new Set(weakPoints.map(({ componentKey }) => componentKey))].flatMap((key) =>
      serviceOf(key, history, start),
    ),
  };
}

/** Decisions that follow a fact, an interval or a rule of safety, whatever they cost. */
const NOT_FOR_MONEY: ReadonlySet<OutlookRow['rule']> = new Set([
  'failed',
  'worn',
  'customary',
  'no_proof',
  'no_proof_customary',
  'safety_never_waits',
]);

/** A renewal that the shop's own figures call dearer than leaving it until it fails. */
function isDearer({ weakPoint, verdict, rule }: OutlookRow, failed: number, policy: OutlookPolicy): boolean {
  if (verdict !== 'renew' || NOT_FOR_MONEY.has(rule) || weakPoint.safety || weakPoint.consequence === 'engine')
    return false;
  const planned = renewalCost(weakPoint, policy);
  return planned > 1.02 * failed * (planned + failureCost(weakPoint, policy));
}

const hasJob = ({ rides }: OutlookRow, rows: Outlook['rows']): boolean =>
  rides !== null &&
  rows.some(
    ({ weakPoint, verdict }) => weakPoint.id === rides.weakPointId && (verdict === 'hold' || verdict === 'renew'),
  );

/**
 * Every engine and variant at each reading and use, with each past and finding: what the decisions do that they must
 * not.
 */
export function decisionFaults(
  engines: readonly EngineKnown[],
  policy: OutlookPolicy,
  readings: readonly number[] = READINGS,
): DecisionCount {
  const faults = new Map<DecisionFault, string[]>(DECISION_FAULTS.map((fault) => [fault, []]));
  const add = (fault: DecisionFault, where: string): void => {
    faults.get(fault)!.push(where);
  };
  let asked = 0;
  for (const engine of engines)
    for (const variant of engine.variants)
      for (const rate of RATES) {
        const before = new Map<string, OutlookRow>();
        for (const km of readings) {
          const nothing = new Map<History, ReadonlyMap<string, OutlookRow>>();
          for (const history of HISTORIES)
            for (const found of FINDINGS) {
              const { rows, drawing } = outlook(gridInput(engine, variant, { km, rate, history, found }, policy), {
                drawn: found === 'nothing',
              });
              asked += rows.length;
              const byKey = new Map(rows.map((row) => [row.weakPoint.key, row]));
              if (found === 'nothing') nothing.set(history, byKey);
              if (found === 'nothing' && PLANNED_AT.has(km)) {
                const vehicle = {
                  parts: rows.map(plannedPart),
                  forecast: drawing!.forecast,
                  operations: new Map(engine.operations.map((operation) => [operation.key, operation])),
                  tasks: [],
                  rateKmPerDay: rate / DAYS_PER_YEAR,
                };
                for (const isBought of [false, true])
                  for (const [fault, what] of planFaults(vehicle, policy, {
                    months: isBought ? BOUGHT_MONTHS : PLAN_MONTHS,
                    isBought,
                    visitOwnerCost: VISIT_OWNER_COST,
                  }).faults)
                    if (fault === 'a plan that contradicts a row' || fault === 'an old part behind a new one')
                      add(
                        'row, plan and purchase sheet disagree',
                        `${engine.code} ${variant.key}, ${km} km at ${rate} a year, ${history}${isBought ? ', bought' : ''}: ${what}`,
                      );
              }
              for (const row of rows) {
                const { weakPoint, verdict } = row;
                const level = ASKS[verdict];
                const where = `${engine.code} ${variant.key}, ${weakPoint.key}, ${km} km at ${rate} a year, ${history}, ${found}: ${row.rule}`;
                const bare = nothing.get(history)!.get(weakPoint.key)!;
                if (found === 'good' && level > ASKS[bare.verdict])
                  add('a good look asks for more', `${where} after ${bare.rule}`);
                if ((found === 'worn' || found === 'failed') && level < ASKS[bare.verdict])
                  add('a worn look asks for less', `${where} after ${bare.rule}`);
                if (verdict === 'look' && weakPoint.look === null) add('a look without a look', where);
                if (verdict === 'ride_along' && !hasJob(row, rows)) add('a ride without a job', where);
                if (found !== 'nothing') continue;
                const item = drawing!.forecast.items.find(({ weakPointId }) => weakPointId === weakPoint.id)!;
                const ahead = drawing!.forecast.ahead.findIndex((day) => day >= KEPT_DAYS);
                if (isDearer(row, item.failed[ahead]!, policy)) add('a renewal dearer than leaving it', where);
                if (history === 'no record' || history === 'never renewed') {
                  const key = `${history} ${weakPoint.key}`;
                  const was = before.get(key);
                  if (weakPoint.nature === 'wear' && was !== undefined && level < ASKS[was.verdict])
                    add('more distance asks for less', `${where} after ${was.rule}`);
                  before.set(key, row);
                }
                const open = nothing.get('no record')!.get(weakPoint.key)!;
                if (history === 'renewed lately' && level > ASKS[open.verdict])
                  add('a record of a renewal makes it worse', `${where} instead of ${open.rule}`);
                if (history === 'renewed cheaply') {
                  const original = nothing.get('renewed')!.get(weakPoint.key)!;
                  if (level < ASKS[original.verdict])
                    add('a cheap part is better than an original', `${where} instead of ${original.rule}`);
                }
              }
            }
        }
      }
  return { asked, faults };
}

/** The grid in words. */
export const GRID_WORDS =
  `each variant at ${READINGS.map((km) => km / 1000).join(', ')} thousand km, at ${RATES.map((rate) => rate.toLocaleString('en')).join(' and ')} km a year, ` +
  `${HISTORIES.join(', ')}; found at each part: ${FINDINGS.join(', ')}`;

/** Prints the nine counts, each of which must be none. */
export function decisionsBench(
  engines: readonly EngineKnown[],
  policy: OutlookPolicy,
  say: (line: string) => void,
): number {
  const { asked, faults } = decisionFaults(engines, policy);
  say(`${engines.length} engines, ${GRID_WORDS}: ${asked.toLocaleString('en')} judgements`);
  for (const [fault, found] of faults)
    say(`${fault.padEnd(46)} ${found.length}${found.length === 0 ? '' : `, such as ${found[0]!}`}`);
  return [...faults.values()].reduce((sum, found) => sum + found.length, 0);
}
