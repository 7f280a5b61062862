import { dayFromIso } from '../units/day.ts';
import { applicability, UNKNOWN_WEIGHT, weighVariants, type VehicleFacts } from './applicability.ts';

const day = (iso: string): number => dayFromIso(iso)!;
const variant = (key: string, weight: number) => ({ key, name: key.toUpperCase(), howToTell: `see ${key}`, weight });
const facts: VehicleFacts = {
  variants: [variant('early', 1)],
  model: 'Corrow',
  market: null,
  producedDay: day('2013-01-01'),
  producedSlackDays: 183,
  features: { turbo: true },
};

test('no condition holds for all', () => expect(applicability({}, facts)).toEqual({ applies: 'yes', weight: 1 }));

test.each([
  [{ variants: ['late'] }, /not affected \(EARLY\)/],
  [{ models: ['Tillet'] }, /only in Tillet/],
  [{ producedToDay: day('2010-01-01') }, /mended in production/],
  [{ producedFromDay: day('2018-01-01') }, /before the fault/],
  [{ features: { turbo: false } }, /not with turbo/],
])('%j is excluded and says why', (rule, why) => {
  const verdict = applicability(rule, facts);
  expect(verdict.applies === 'no' ? verdict.because : '').toMatch(why);
});

test('an open variant is weighed and says what to look at', () => {
  expect(
    applicability({ variants: ['early'] }, { ...facts, variants: [variant('early', 0.4), variant('late', 0.6)] }),
  ).toEqual({ applies: 'maybe', weight: 0.4, settle: 'EARLY: see early', open: ['variant'] });
});

test('unknown is a state of its own: model, market and feature leave it open', () => {
  for (const rule of [{ models: ['Corrow'] }, { markets: ['north'] }, { features: { towbar: true } }])
    expect(applicability(rule, { ...facts, model: null }).applies).toBe('maybe');
});

test('a production window that covers half of the possible span counts half', () => {
  const verdict = applicability({ producedToDay: day('2013-01-01') }, facts);
  expect(verdict.weight).toBeCloseTo(0.5, 2);
});

describe('weights of variants', () => {
  const windows = [
    {
      key: 'early',
      name: 'Early',
      howToTell: null,
      producedFromDay: day('2011-01-01'),
      producedToDay: day('2014-12-31'),
    },
    { key: 'late', name: 'Late', howToTell: null, producedFromDay: day('2015-01-01'), producedToDay: null },
  ];
  test('a date inside one run leaves that one', () =>
    expect(weighVariants(windows, day('2012-06-01'), 183).map(({ key, weight }) => [key, weight])).toEqual([
      ['early', 1],
    ]));
  test('a date on the change splits evenly', () => {
    const weights = weighVariants(windows, day('2015-01-01'), 183);
    expect(weights.map(({ weight }) => Math.round(weight * 100))).toEqual([50, 50]);
  });
  test('no date weighs by the length of the run, and outside every run there is none', () => {
    expect(weighVariants(windows, null, 0).reduce((sum, { weight }) => sum + weight, 0)).toBeCloseTo(1, 12);
    expect(weighVariants(windows, day('2005-01-01'), 183)).toEqual([]);
  });
});

describe('each condition: known, open, and why not', () => {
  const whole = (rule: Parameters<typeof applicability>[0], changes: Partial<VehicleFacts> = {}) =>
    applicability(rule, { ...facts, ...changes });

  test('a model by part of its name, whatever its letters; a region by its name alone', () => {
    expect(whole({ models: ['corr', 'Tillet'] }).applies).toBe('yes');
    expect(whole({ models: ['Tillet', 'Sund'] })).toEqual({
      applies: 'no',
      weight: 0,
      because: 'only in Tillet or Sund',
    });
    expect(whole({ models: ['Tillet', 'Sund'] }, { model: null })).toEqual({
      applies: 'maybe',
      weight: UNKNOWN_WEIGHT,
      settle: 'only in Tillet or Sund',
      open: ['model'],
    });
    expect(whole({ markets: ['north'] }, { market: 'north' }).applies).toBe('yes');
    expect(whole({ markets: ['north'] }, { market: 'northern' })).toEqual({
      applies: 'no',
      weight: 0,
      because: 'only in vehicles sold in north',
    });
    expect(whole({ markets: ['north', 'south'] })).toMatchObject({
      weight: UNKNOWN_WEIGHT,
      settle: 'only in vehicles sold in north or south',
      open: ['market'],
    });
  });

  test('an engine serial: within its two ends, each of which counts', () => {
    const rule = { serialFrom: 100, serialTo: 200 };
    expect([99, 100, 200, 201].map((serial) => whole(rule, { serial }).applies)).toEqual(['no', 'yes', 'yes', 'no']);
    expect(whole(rule, { serial: 99 })).toMatchObject({ because: 'an earlier engine serial than those affected' });
    expect(whole(rule, { serial: 201 })).toMatchObject({ because: 'a later engine serial than those affected' });
    expect(whole({ serialTo: 200 }, { serial: 1 }).applies).toBe('yes');
    expect(whole({ serialFrom: 100 }, { serial: 1e6 }).applies).toBe('yes');
    expect(whole({ serialTo: 200 }, { serial: 201 }).applies).toBe('no');
    expect(whole({ serialFrom: 100 }, { serial: 99 }).applies).toBe('no');
    for (const changes of [{}, { serial: null }])
      expect(whole(rule, changes)).toMatchObject({
        weight: UNKNOWN_WEIGHT,
        settle: 'the engine serial number',
        open: ['serial'],
      });
  });

  test('a feature: as common as the library has it, wanted or not, with how to tell', () => {
    const knownFeatures = [
      { key: 'turbo', name: 'a turbocharger', share: 0.7, howToTell: null },
      { key: 'cooler', name: 'the oil cooler', share: 0.2, howToTell: 'a plate' },
    ];
    expect(whole({ features: { cooler: true } }, { knownFeatures })).toEqual({
      applies: 'maybe',
      weight: 0.2,
      settle: 'whether it has the oil cooler (a plate)',
      open: ['feature:cooler'],
    });
    expect(whole({ features: { cooler: false } }, { knownFeatures }).weight).toBeCloseTo(0.8, 12);
    expect(whole({ features: { cooler: true } })).toMatchObject({
      weight: UNKNOWN_WEIGHT,
      settle: 'whether it has cooler',
    });
    expect(whole({ features: { cooler: true } }, { knownFeatures, features: { cooler: false } })).toMatchObject({
      applies: 'no',
      because: 'only with the oil cooler',
    });
    expect(whole({ features: { turbo: true } }).applies).toBe('yes');
  });

  test('production: the part of the possible days that lies within; a day more or less decides at the ends', () => {
    const built = facts.producedDay!;
    const exact = { producedSlackDays: 0 };
    expect(whole({ producedToDay: built }, exact).applies).toBe('yes');
    expect(whole({ producedFromDay: built }, exact).applies).toBe('yes');
    expect(whole({ producedToDay: built - 1 }, exact)).toMatchObject({
      because: 'made after the fault was mended in production',
    });
    expect(whole({ producedFromDay: built + 1 }, exact)).toMatchObject({ because: 'made before the fault came in' });
    expect(whole({ producedFromDay: built - 1, producedToDay: built }, { producedSlackDays: 1 })).toMatchObject({
      weight: 2 / 3,
      settle: 'the exact build date',
      open: ['produced'],
    });
    expect(whole({ producedToDay: built }, { producedDay: null })).toMatchObject({
      weight: UNKNOWN_WEIGHT,
      settle: 'the year of first registration',
      open: ['produced'],
    });
  });

  test('what is open multiplies and is asked for together; variants that all have it leave nothing open', () => {
    expect(whole({ models: ['Corrow'], markets: ['north'] }, { model: null })).toEqual({
      applies: 'maybe',
      weight: UNKNOWN_WEIGHT ** 2,
      settle: 'only in Corrow; only in vehicles sold in north',
      open: ['model', 'market'],
    });
    const variants = [variant('early', 0.4), variant('late', 0.6)];
    expect(whole({ variants: ['early', 'late'] }, { variants })).toEqual({ applies: 'yes', weight: 1 });
    const third = [variant('early', 0.4), variant('late', 0.3), { ...variant('last', 0.3), howToTell: null }];
    expect(whole({ variants: ['early', 'last'] }, { variants: third })).toEqual({
      applies: 'maybe',
      weight: 0.7,
      settle: 'EARLY: see early; LAST',
      open: ['variant'],
    });
    expect(whole({ variants: ['other'] }, { variants })).toMatchObject({
      because: 'this variant is not affected (EARLY or LATE)',
    });
    expect(whole({ variants: ['other'] }, { variants: [] })).toMatchObject({ because: 'this variant is not affected' });
  });
});

describe('runs of variants', () => {
  const made = (key: string, producedFromDay: number | null, producedToDay: number | null, serials: object = {}) => ({
    key,
    name: key,
    howToTell: null,
    producedFromDay,
    producedToDay,
    ...serials,
  });
  const weights = (...asked: Parameters<typeof weighVariants>): Record<string, number> =>
    Object.fromEntries(weighVariants(...asked).map(({ key, weight }) => [key, weight]));

  test('without a date by the length of the run: an open end counts ten years, a run open at both a hundred', () => {
    expect(weights([made('a', 1000, 1000 + 3653), made('b', 5000, null)], null, 0)).toEqual({ a: 0.5, b: 0.5 });
    expect(weights([made('a', 1000, 1000 + 3653), made('b', null, 9000)], null, 0)).toEqual({ a: 0.5, b: 0.5 });
    expect(weights([made('a', 1000, 1000 + 3653), made('b', null, null)], null, 0)).toEqual({ a: 1 / 11, b: 10 / 11 });
  });
  test('with a date by the days that it may have been made on', () => {
    const windows = [made('a', null, 1000), made('b', 1001, null)];
    expect(weights(windows, 1000, 1)).toEqual({ a: 2 / 3, b: 1 / 3 });
    expect(weights(windows, 900, 10)).toEqual({ a: 1 });
  });
  test('a serial inside a window settles it whatever the papers say; one in none leaves it to the date', () => {
    const windows = [
      made('a', null, 1000, { serialFrom: 1, serialTo: 100 }),
      made('b', 1001, null, { serialFrom: 101, serialTo: null }),
      made('c', 1001, null),
    ];
    expect(weights(windows, 900, 10, 101)).toEqual({ b: 1 });
    expect(weights(windows, 2000, 10, 100)).toEqual({ a: 1 });
    expect(weights(windows, 900, 10, 0)).toEqual({ a: 1 });
    const ended = [...windows, made('d', 1001, null, { serialFrom: null, serialTo: -5 })];
    expect(weights(ended, 900, 10, -6)).toEqual({ d: 1 });
  });
});
