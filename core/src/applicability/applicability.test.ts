import { dayFromIso } from '../units/day.ts';
import { applicability, weighVariants, type VehicleFacts } from './applicability.ts';

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
