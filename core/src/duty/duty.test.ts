import {
  averageSpeedKmh,
  clockDuty,
  DEFAULT_DUTY_FACTORS,
  DUTY_KEYS,
  DUTY_QUESTIONS,
  hastened,
  partDuty,
  type DutyProfile,
} from './duty.ts';

const duty = (
  profile: Parameters<typeof clockDuty>[1],
  severity = 1,
  componentClass: Parameters<typeof clockDuty>[0] = 'chain',
) => clockDuty(componentClass, profile, DEFAULT_DUTY_FACTORS, severity);

test('nothing known and everything denied are ordinary use', () => {
  expect(duty({})).toEqual({ distance: 1, age: 1 });
  expect(duty(Object.fromEntries(DUTY_KEYS.map((key) => [key, 'no' as const])))).toEqual({ distance: 1, age: 1 });
});

test('answers multiply on the clock and the parts they touch, and on no other', () => {
  expect(duty({ shortTrips: 'much', longOil: 'some' })).toEqual({ distance: 1.35 * 1.1, age: 1 });
  expect(duty({ longOil: 'much' }, 1, 'plastic')).toEqual({ distance: 1, age: 1 });
  expect(duty({ heat: 'much', standing: 'some' }, 1, 'rubber')).toEqual({ distance: 1, age: 1.25 * 1.1 });
});

test('a mechanic’s own factor counts on distance beside the answers, and none makes a clock run absurdly', () => {
  expect(duty({ load: 'much' }, 1.2).distance).toBeCloseTo(1.5, 12);
  expect(duty({ shortTrips: 'much', load: 'much', hard: 'much', longOil: 'much' }, 5).distance).toBe(5);
});

test('every question says which clock it hastens, more for much than for some', () => {
  for (const key of DUTY_KEYS) {
    expect(DUTY_QUESTIONS[key].question).toMatch(/\?$/);
    expect(DEFAULT_DUTY_FACTORS[key].much).toBeGreaterThan(DEFAULT_DUTY_FACTORS[key].some);
    expect(DEFAULT_DUTY_FACTORS[key].some).toBeGreaterThan(1);
  }
});

test('short trips mean more engine hours to the kilometre', () => {
  expect(averageSpeedKmh({ shortTrips: 'much' })).toBeLessThan(averageSpeedKmh({ shortTrips: 'some' }));
  expect(averageSpeedKmh({})).toBe(40);
});

test('which parts each answer wears on, and on which clock', () => {
  const classes = ['rubber', 'plastic', 'chain', 'bearing', 'gasket', 'electronics', 'sensor', 'early'] as const;
  const touched = (clock: 'distance' | 'age') =>
    Object.fromEntries(
      DUTY_KEYS.map((key) => [
        key,
        classes.filter((componentClass) => duty({ [key]: 'much' }, 1, componentClass)[clock] !== 1),
      ]),
    );
  expect(touched('distance')).toEqual({
    shortTrips: classes,
    load: classes,
    heat: [],
    hard: ['rubber', 'chain', 'bearing', 'gasket'],
    fuel: ['gasket', 'electronics', 'sensor'],
    longOil: ['rubber', 'chain', 'bearing'],
    standing: [],
  });
  expect(touched('age')).toEqual({
    shortTrips: [],
    load: [],
    heat: ['rubber', 'plastic', 'gasket', 'electronics'],
    hard: [],
    fuel: [],
    longOil: [],
    standing: ['rubber', 'plastic', 'bearing', 'gasket'],
  });
});

test('every answer has words, some and much in different ones', () => {
  for (const { some, much } of Object.values(DUTY_QUESTIONS)) {
    expect(some.length).toBeGreaterThan(3);
    expect(much.length).toBeGreaterThan(3);
    expect(some).not.toBe(much);
  }
});

test('a use that somebody tells of a part counts once: as told there, and not by the shop’s factor as well', () => {
  const chain = {
    componentClass: 'chain' as const,
    hastens: [{ use: 'shortTrips' as const, clock: 'distance' as const, factor: 1.4 }],
  };
  const of = (profile: DutyProfile) =>
    partDuty(chain, { duty: profile, features: {} }, { factors: DEFAULT_DUTY_FACTORS, severity: 1.2 });
  expect(of({ shortTrips: 'much' }).distance).toBeCloseTo(1.2 * 1.4, 12);
  expect(of({ shortTrips: 'some' }).distance).toBeCloseTo(1.2 * Math.sqrt(1.4), 12);
  // Another use keeps the shop's factor.
  expect(of({ shortTrips: 'much', longOil: 'much' }).distance).toBeCloseTo(1.2 * 1.4 * 1.4, 12);
});

describe('what hastens one part in particular', () => {
  const base = { distance: 1.2, age: 1 };
  const of = (
    hastens: Parameters<typeof hastened>[1],
    duty: DutyProfile = {},
    features: Record<string, boolean> = {},
  ) => hastened(base, hastens, { duty, features });
  test('a use counts in full for much, to its root for some, and not where it is denied or not known', () => {
    const towing = [{ use: 'load', clock: 'distance', factor: 1.44 }] as const;
    expect(of(towing, { load: 'much' }).distance).toBeCloseTo(1.2 * 1.44, 12);
    expect(of(towing, { load: 'some' }).distance).toBeCloseTo(1.2 * 1.2, 12);
    expect(of(towing, { load: 'no' })).toEqual(base);
    expect(of(towing)).toEqual(base);
  });
  test('a feature counts where it is there; what is not known of counts for nothing', () => {
    const filter = [{ feature: 'oiled-filter', factor: 1.5 }];
    expect(of(filter, {}, { 'oiled-filter': true })).toEqual({ distance: 1.2 * 1.5, age: 1.5 });
    expect(of(filter, {}, { 'oiled-filter': false })).toEqual(base);
    expect(of(filter)).toEqual(base);
  });
  test('only the clock that is named; several multiply; never beyond what is believed', () => {
    expect(of([{ use: 'heat', clock: 'age', factor: 1.3 }], { heat: 'much' })).toEqual({ distance: 1.2, age: 1.3 });
    expect(of([{ use: 'load', clock: 'distance', factor: 1.3 }], { load: 'much' })).toEqual({
      distance: 1.2 * 1.3,
      age: 1,
    });
    const two = [
      { use: 'heat', clock: 'age', factor: 1.3 },
      { feature: 'south', clock: 'age', factor: 1.2 },
    ] as const;
    expect(of(two, { heat: 'much' }, { south: true }).age).toBeCloseTo(1.56, 12);
    expect(of([{ feature: 'south', factor: 5 }], {}, { south: true }).distance).toBe(5);
  });
});
