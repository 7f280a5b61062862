import {
  bestAge,
  costRate,
  timeLived,
  caughtByPeriod,
  caughtByPeriodExponential,
  caughtBySchedule,
  longestPeriod,
  cumulativeHazard,
} from '@crosspeen/core';
import { asNumber, field, numbers, optional, type Call } from './json.ts';

export const ageReplacement: Call = (input) => {
  const number = (name: string): number => asNumber(field(input, name), name);
  const life = { shape: number('beta'), scale: number('eta') };
  const share = number('pi');
  const costs = { planned: number('cp'), failure: number('cf') };
  const ages = numbers(optional(input, 'T') ?? [], 'T');
  const best = bestAge(life, share, costs);
  return {
    T_opt: best.age,
    g_opt: best.rate,
    g_rtf: best.runToFailureRate,
    finite: best.age !== Infinity,
    g: ages.map((age) => costRate(life, share, costs, age)),
    g_part: ages.map((age) => {
      const failed = -share * Math.expm1(-cumulativeHazard(life, age));
      return (
        (costs.planned * (1 - failed) + costs.failure * failed) / (share * timeLived(life, age) + (1 - share) * age)
      );
    }),
    intS: ages.map((age) => timeLived(life, age)),
  };
};

export const cadence: Call = (input) => {
  const number = (name: string): number => asNumber(field(input, name), name);
  const [period, warning, detection] = [number('D'), number('L'), number('r')];
  return {
    caught_fixed: caughtByPeriod(period, warning, detection),
    caught_exponential: caughtByPeriodExponential(period, warning, detection),
    max_period: longestPeriod(warning, detection, number('target')),
    ...(optional(input, 'dates') === undefined
      ? {}
      : {
          caught_schedule: caughtBySchedule(
            { shape: number('beta'), scale: number('eta') },
            numbers(field(input, 'dates'), 'dates'),
            warning,
            detection,
          ),
        }),
  };
};
