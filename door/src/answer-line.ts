import {
  lifeFromMedian,
  lifeFromWindow,
  scaleForShare,
  wearFromMedian,
  wearFromWindow,
  type ElicitedLife,
  type WeibullLife,
  onceRenewed,
  unknownInstall,
  cumulativeHazard,
  hazardIncrement,
  limitedFailure,
  asTold,
  conditionalRisk,
  type ClockLife,
  ageClock,
  distanceClock,
  hoursFromDistance,
  type Clock,
  dayAtDistance,
  distanceAtDay,
  usagePath,
  DAYS_PER_YEAR,
} from '@crosspeen/core';
import { ageReplacement, cadence } from './schools.ts';
import { fit, observationLogLikelihood, posterior } from './experience.ts';
import {
  asArray,
  asNumber,
  asObject,
  asText,
  DoorError,
  field,
  numbers,
  optional,
  pair,
  type Call,
  type Json,
} from './json.ts';
import { accessCall } from './access.ts';
import { triageCall } from './triage.ts';
import { upkeepClock } from './upkeep.ts';
import { deferralCall, planCall } from './visits.ts';

const elicit: Call = (input) => {
  const kind = asText(field(input, 'kind'), 'kind');
  const number = (name: string): number => asNumber(field(input, name), name);
  const window = (life: ElicitedLife): Record<string, number | boolean> => {
    const failedAt = (x: number): number => -Math.expm1(-cumulativeHazard(life, x));
    return {
      beta: life.shape,
      eta: life.scale,
      clipped: life.clipped,
      F_a: failedAt(number('a')),
      F_b: failedAt(number('b')),
    };
  };
  switch (kind) {
    case 'window':
      return window(lifeFromWindow(number('a'), number('b')));
    case 'wear_window':
      return window(wearFromWindow(number('a'), number('b'), number('share')));
    case 'median': {
      const life = lifeFromMedian(number('median'), number('beta'));
      return { beta: life.shape, eta: life.scale };
    }
    case 'wear_median': {
      const life = wearFromMedian(number('median'), number('beta'), number('share'));
      return { beta: life.shape, eta: life.scale, clipped: life.clipped };
    }
    case 'share':
      return { eta: scaleForShare(number('eta'), number('beta'), number('share')) };
    default:
      throw new DoorError('bad_input', `kind must be window, wear_window, median, wear_median or share, got "${kind}"`);
  }
};

const weibulls = (input: Record<string, Json>): WeibullLife[] => {
  const shapes = numbers(field(input, 'beta'), 'beta');
  const scales = numbers(field(input, 'eta'), 'eta');
  if (shapes.length !== scales.length) throw new DoorError('bad_input', 'beta and eta need one value for each clock');
  return shapes.map((shape, clock) => ({ shape, scale: scales[clock]! }));
};

const hazard: Call = (input) => {
  const answer = limitedFailure(
    weibulls(input),
    numbers(field(input, 'z'), 'z'),
    numbers(field(input, 'dz'), 'dz'),
    asNumber(field(input, 'pi'), 'pi'),
  );
  return {
    H: answer.hazard,
    dH: answer.increment,
    F: answer.failed,
    R: answer.surviving,
    p_susc: answer.susceptible,
    q: answer.risk,
  };
};

const path: Call = (input) => {
  const start = optional(input, 'start');
  const built = usagePath(
    asArray(field(input, 'readings'), 'readings').map((reading) => {
      const [day, km] = pair(reading, 'readings');
      return { day, km };
    }),
    start === undefined ? null : asNumber(start, 'start'),
    asNumber(field(input, 'prior_rate'), 'prior_rate'),
    {
      priorWeightDays: asNumber(field(input, 'kappa'), 'kappa'),
      halfLifeDays: asNumber(field(input, 'half_life'), 'half_life'),
    },
  );
  return {
    rejected: built.rejected,
    knots: built.knots.map(({ day, km }) => [day, km]),
    start: built.startDay,
    rate: built.rateKmPerDay,
    km: numbers(optional(input, 'query_days') ?? [], 'query_days').map((day) => distanceAtDay(built, day)),
    day_of_km: numbers(optional(input, 'query_km') ?? [], 'query_km').map((km) => dayAtDistance(built, km)),
  };
};

const risk: Call = (input) => {
  const days = numbers(field(input, 'days'), 'days');
  const km = numbers(field(input, 'km'), 'km');
  if (days.length !== km.length || days.length === 0)
    throw new DoorError('bad_input', 'days and km need the same number of knots, at least one');
  const usage = {
    knots: days.map((day, i) => ({ day, km: km[i]! })),
    rateKmPerDay: asNumber(field(input, 'rate'), 'rate'),
  };
  const speed = optional(input, 'v_avg');
  const clocks: Clock[] = [distanceClock(usage), ageClock];
  if (speed !== undefined) clocks.push(hoursFromDistance(usage, asNumber(speed, 'v_avg')));
  const duty = numbers(field(input, 'phi'), 'phi');
  const clockAt = (index: number, name: string): Clock => {
    const clock = clocks[index];
    if (clock === undefined)
      throw new DoorError('bad_input', `${name}: there is no clock ${index} here; hours need v_avg`);
    return clock;
  };
  const lives: ClockLife[] = weibulls(input).map((life, index) => ({
    ...life,
    clock: clockAt(index, 'beta'),
    duty: duty[index] ?? 1,
  }));
  const answer = conditionalRisk({
    life: asTold(lives),
    share: asNumber(field(input, 'pi'), 'pi'),
    installDay: asNumber(field(input, 'install'), 'install'),
    nowDay: asNumber(field(input, 'now'), 'now'),
    stepDays: asNumber(field(input, 'step'), 'step'),
    inspections: asArray(optional(input, 'insp') ?? [], 'insp').map((entry) => {
      const look = asObject(entry, 'insp');
      const number = (name: string): number => asNumber(field(look, name), `insp.${name}`);
      return {
        day: number('date'),
        detection: number('r'),
        falseAlarm: asNumber(optional(look, 'fp') ?? 0, 'insp.fp'),
        worn: optional(look, 'worn') === true,
        warning: [{ clock: clockAt(number('clock'), 'insp.clock'), length: number('L') }],
      };
    }),
    warningNodes: asArray(optional(input, 'l_nodes') ?? [[1, 1]], 'l_nodes').map((node) => pair(node, 'l_nodes')),
  });
  return { q: answer.risk, H0: answer.hazard, p_susc: answer.susceptible, p_susc_insp: answer.susceptibleGivenLooks };
};

const unknownOnce: Call = (input) => {
  const number = (name: string): number => asNumber(field(input, name), name);
  const custom = number('interval');
  const {
    risk: q,
    originalChance,
    renewedAt,
  } = onceRenewed(
    {
      life: { shape: number('beta'), scale: number('eta') },
      share: number('pi'),
      followChance: number('p_follow'),
      custom,
      customSd: custom * number('cv'),
      nodes: number('nodes'),
    },
    number('x'),
    number('x_next'),
  );
  return { q, p_original: originalChance, nodes: renewedAt };
};

const unknown: Call = (input) => {
  if (optional(input, 'simple') === true) return unknownOnce(input);
  const lives = weibulls(input);
  const number = (name: string): number => asNumber(field(input, name), name);
  const now = [number('km'), number('days')];
  const next = numbers(field(input, 'next'), 'next');
  const bins = number('N');
  const lag = optional(input, 'lag');
  const { running, failed } = unknownInstall({
    lives,
    clocksNow: now,
    share: number('pi'),
    custom: number('interval'),
    customSpread: number('cv'),
    followChance: number('p_follow'),
    knownFailureChance: number('rho'),
    // Without a lag a failure is repaired at once.
    binOverLag: lag === undefined ? Infinity : lagged(now[1]! / bins, asNumber(lag, 'lag')),
    bins,
  });
  let weight = 0;
  let failing = 0;
  let clock = 0;
  for (const { fraction, susceptible, immune } of running) {
    const increment = lives.reduce(
      (sum, life, s) => sum + hazardIncrement(life, now[s]! * (1 - fraction), next[s]! - now[s]!),
      0,
    );
    weight += susceptible + immune;
    failing -= susceptible * Math.expm1(-increment);
    clock += (susceptible + immune) * now[0]! * (1 - fraction);
  }
  const original = running[0]!.susceptible + running[0]!.immune;
  const q = failing / weight;
  const whole = weight + failed;
  const alike = { q, p_original: original / whole, weight: whole };
  if (lag === undefined) return { ...alike, mean_part_clock: clock / weight };
  return { ...alike, p_failed: failed / whole, chance: (failed + q * weight) / whole };
};

/** Length of a bin over the years that a repair waits; Infinity where it waits for nothing. */
const lagged = (binDays: number, lagYears: number): number =>
  lagYears === 0 ? Infinity : binDays / (lagYears * DAYS_PER_YEAR);

/** The core's calls for other programs, by name. Field names are those of the published cases. */
const CALLS: Readonly<Record<string, Call>> = {
  'life.elicit': elicit,
  'life.hazard': hazard,
  'usage.path': path,
  'life.risk': risk,
  'history.unknown': unknown,
  'upkeep.clock': upkeepClock,
  'access.minutes': accessCall,
  'triage.next': triageCall,
  'visits.deferral': deferralCall,
  'visits.plan': planCall,
  'schools.ageReplacement': ageReplacement,
  'schools.cadence': cadence,
  'experience.logLikelihood': observationLogLikelihood,
  'experience.fit': fit,
  'experience.posterior': posterior,
};

/** JSON has no infinities: they cross the door as the words "inf", "-inf" and "nan". */
const spell = (_key: string, value: unknown): unknown => {
  if (typeof value !== 'number' || Number.isFinite(value)) return value;
  return Number.isNaN(value) ? 'nan' : value > 0 ? 'inf' : '-inf';
};

/**
 * Answers one line of the door: `{"call": ..., "input": ...}` in, `{"output": ...}` or `{"error": {"code", "message"}}`
 * out. Never throws on bad input: a line that is no JSON, an unknown call and a value out of its domain are answers
 * too.
 */
export function answerLine(line: string): string {
  try {
    let request: Json;
    try {
      request = JSON.parse(line) as Json;
    } catch {
      throw new DoorError('bad_json', 'the line is not JSON');
    }
    const { call, input } = asObject(request, 'request');
    const name = asText(call, 'call');
    const handler = Object.hasOwn(CALLS, name) ? CALLS[name] : undefined;
    if (handler === undefined)
      throw new DoorError('unknown_call', `there is no call "${name}"; known: ${Object.keys(CALLS).join(', ')}`);
    return JSON.stringify({ output: handler(asObject(input, 'input')) }, spell);
  } catch (error) {
    if (error instanceof DoorError) return JSON.stringify({ error: { code: error.code, message: error.message } });
    if (error instanceof RangeError)
      return JSON.stringify({ error: { code: 'out_of_domain', message: error.message } });
    throw error;
  }
}
