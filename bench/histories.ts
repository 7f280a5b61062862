import {
  DAYS_PER_YEAR,
  judgeVehicle,
  REPAIR_LAG_YEARS,
  susceptibleShare,
  toldLife,
  UNKNOWN_DEFAULTS,
  usagePath,
  type JudgedRow,
  type Nature,
  type OutlookInput,
  type WeakPointFact,
} from '@crosspeen/core';
import { DEFAULT_SETTINGS, policyOf } from '@crosspeen/server';
import { evenNumbers } from './kernel.ts';

/** Vehicles of which nobody knows what was done: a belt is renewed when it breaks, a seal leaks on for a while. */
const VEHICLES = { engine: 70_000, leak: 60_000 } as const;
type Told = keyof typeof VEHICLES;
const TODAY = 20_780;

const WINDOW = { clock: 'distance', from: 110_000, to: 200_000 } as const;
const CUSTOM_KM = 120_000;

/** What wears, or the same told as a fault that half of them were built with; customarily renewed. */
const pointOf = (nature: Nature, consequence: Told): WeakPointFact => ({
  id: 'belt',
  key: 'belt',
  title: 'Belt',
  component: 'Belt',
  componentKey: 'belt',
  componentClass: 'rubber',
  nature,
  group: 'timing',
  consequence,
  safety: false,
  effect: '',
  signs: '',
  share: nature === 'wear' ? 0.95 : 0.5,
  causes: [[WINDOW]],
  look: null,
  renewMinutes: 170,
  access: [],
  partPrice: null,
  appliesTo: {},
  retiredByRevision: null,
  watch: null,
  damages: [],
  symptoms: [],
  failure: null,
  hastens: [],
  revisions: [],
  fittedTo: 'engine',
  revisedHowToTell: null,
  experience: null,
  statements: [
    {
      authority: 'a',
      kind: 'book',
      edition: null,
      region: null,
      words: '',
      asks: 'renew',
      interval: [{ clock: 'distance', from: CUSTOM_KM, to: CUSTOM_KM }],
    },
  ],
});

const normal = (even: () => number): number => Math.sqrt(-2 * Math.log(even())) * Math.cos(2 * Math.PI * even());

interface Lived {
  readonly km: number;
  readonly years: number;
  /** Distance at which the part that is in there now fails, or has failed. */
  readonly failsAt: number;
}

/**
 * One vehicle as it lived: parts renewed some time after they failed, and in those that keep to it at about the custom,
 * if they run until then. Null where a failure would be known: then its history is not unknown.
 */
function live(even: () => number, point: WeakPointFact): Lived | null {
  const { followChance, customSpread, knownFailureChance } = UNKNOWN_DEFAULTS;
  const years = 3 + 20 * even();
  const km = years * 15_000 * Math.exp(0.3 * normal(even));
  const follows = even() < followChance;
  const susceptible = even() < susceptibleShare(point);
  const life = toldLife(WINDOW, point);
  const lag = REPAIR_LAG_YEARS[point.consequence];
  for (let install = 0; ;) {
    const failsAt = susceptible ? install + life.scale * (-Math.log(even())) ** (1 / life.shape) : Infinity;
    const renewedAt = follows ? install + Math.max(1, CUSTOM_KM * (1 + customSpread * normal(even))) : Infinity;
    if (Math.min(failsAt, renewedAt) > km) return { km, years, failsAt };
    if (renewedAt < failsAt) {
      install = renewedAt;
      continue;
    }
    if (even() < knownFailureChance) return null;
    const repairedAt = failsAt + lag * (km / years) * -Math.log(even());
    if (repairedAt > km) return { km, years, failsAt };
    install = repairedAt;
  }
}

interface Predicted {
  readonly chance: number;
  readonly ifFirst: number | null;
  readonly failed: boolean;
  readonly noProof: boolean;
}

/** What is said of a vehicle of which nobody knows what was done, and what then happened before the next service. */
function predict(lived: Lived, point: WeakPointFact, policy: OutlookInput['policy']): Predicted {
  const perDay = lived.km / (lived.years * DAYS_PER_YEAR);
  const input: OutlookInput = {
    today: TODAY,
    path: usagePath([{ day: TODAY, km: lived.km }], TODAY - lived.years * DAYS_PER_YEAR, perDay),
    engine: null,
    rateSpread: 0.2,
    severity: 1,
    duty: {},
    counted: false,
    choices: [],
    findings: [],
    tasks: [],
    upkeep: [],
    weakPoints: [point],
    policy,
    facts: { variants: [], model: null, market: null, producedDay: null, producedSlackDays: 0, features: {} },
    services: [],
  };
  const [row] = judgeVehicle(input).rows as readonly [JudgedRow];
  const step = Math.min(policy.serviceKm, policy.serviceDays * perDay);
  return {
    chance: row.chance,
    ifFirst: row.unproved,
    failed: lived.failsAt <= lived.km + step,
    noProof: row.unproved !== null,
  };
}

const mean = (list: readonly number[]): number => list.reduce((sum, value) => sum + value, 0) / list.length;

/** Tenths of what was predicted against what happened; answers the mean absolute error. */
export function byTenths(
  predictions: readonly { chance: number; failed: boolean }[],
  say: (line: string) => void,
): number {
  const sorted = [...predictions].sort((a, b) => a.chance - b.chance);
  let error = 0;
  for (let tenth = 0; tenth < 10; tenth += 1) {
    const part = sorted.slice(Math.floor((tenth * sorted.length) / 10), Math.floor(((tenth + 1) * sorted.length) / 10));
    const [predicted, observed] = [
      mean(part.map(({ chance }) => chance)),
      mean(part.map(({ failed }) => (failed ? 1 : 0))),
    ];
    error += Math.abs(predicted - observed) / 10;
    say(
      `${String(tenth + 1).padStart(5)} ${(predicted * 100).toFixed(2).padStart(10)} % ${(observed * 100).toFixed(2).padStart(9)} %`,
    );
  }
  return error;
}

/**
 * Vehicles of which nobody knows what was done, lived through the renewal process that the model takes for granted: the
 * weighed chance by tenths against what then happens, for each nature; and the same of those rows alone that are
 * judged as the first part because nobody can show a renewal.
 */
export function historiesBench(say: (line: string) => void): void {
  const policy = policyOf(DEFAULT_SETTINGS);
  const kinds = [
    ['wear', 'engine', 1789],
    ['defect', 'engine', 1848],
    ['wear', 'leak', 1917],
  ] as const;
  for (const [nature, consequence, seed] of kinds) {
    const even = evenNumbers(seed);
    const point = pointOf(nature, consequence);
    const vehicles = VEHICLES[consequence];
    const predictions: Predicted[] = [];
    while (predictions.length < vehicles) {
      const lived = live(even, point);
      if (lived !== null) predictions.push(predict(lived, point, policy));
    }
    say(
      `${vehicles.toLocaleString('en')} vehicles with nothing known of a part told as ${nature}, consequence ${consequence}; the weighed chance`,
    );
    say('tenth    predicted   observed');
    say(`mean absolute error by tenths             ${(byTenths(predictions, say) * 100).toFixed(2)} points`);
    const unproved = predictions.filter(({ noProof }) => noProof);
    if (unproved.length < 200) continue;
    say(
      `of them ${unproved.length.toLocaleString('en')} judged as the first one, at ${(mean(unproved.map(({ ifFirst }) => ifFirst!)) * 100).toFixed(1)} % on average if it is; the weighed chance of these`,
    );
    say('tenth    predicted   observed');
    say(`mean absolute error by tenths             ${(byTenths(unproved, say) * 100).toFixed(2)} points`);
  }
}
