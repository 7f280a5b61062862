import { neglectedRun, upkeepState, type UpkeepInterval, ageClock, distanceClock } from '@crosspeen/core';
import { asArray, asNumber, DoorError, field, numbers, optional, pair, type Call } from './json.ts';

/**
 * Due date of a recurring task, its overdue stretches, and the effect of its neglect on the clocks
 * of the parts that it protects.
 */
export const upkeepClock: Call = (input) => {
  const number = (name: string): number => asNumber(field(input, name), name);
  const knots = asArray(field(input, 'knots'), 'knots').map((knot) => {
    const [day, km] = pair(knot, 'knots');
    return { day, km };
  });
  if (knots.length === 0) throw new DoorError('bad_input', 'knots must be given, at least one');
  const distance = distanceClock({ knots, rateKmPerDay: number('rate') });
  const interval: UpkeepInterval[] = (
    [
      ['distance', 'interval_km'],
      ['age', 'interval_days'],
    ] as const
  ).flatMap(([clock, name]) => {
    const at = optional(input, name);
    return at === undefined ? [] : [{ clock, at: asNumber(at, name) }];
  });
  const [nowDay, install, factor] = [number('now'), number('install'), number('phi')];
  const { dueDay, overdue } = upkeepState(
    {
      interval,
      done: numbers(field(input, 'done'), 'done'),
      knownFrom: optional(input, 'known_from_new') === true ? number('start') : null,
      nowDay,
      grace: number('grace'),
    },
    { distance, age: ageClock },
  );
  const run = (clock: typeof distance): number => neglectedRun(clock, install, nowDay, [{ overdue, factor }]);
  return { due: dueDay, overdue, clock_km: run(distance), clock_days: run(ageClock) };
};
