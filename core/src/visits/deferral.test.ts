import { deferralCosts, type DeferralQuestion } from './deferral.ts';

const asked: DeferralQuestion = {
  life: { shape: 1, scale: 40 },
  share: 1,
  ageNow: 13,
  ratePerMonth: 2,
  months: 24,
  plannedAlone: 300,
  parts: 120,
  failure: 2400,
  lateLabour: 180,
};

test('what fails at the same rate at any age is not worth renewing: the parts are spared where it fails before', () => {
  const { byMonth, later, bestAge, susceptible } = deferralCosts(asked);
  expect([bestAge, susceptible]).toEqual([Infinity, 1]);
  // c_f (1 - S) + c_parts S - (c_f / mean) mean (1 - S) = c_parts S.
  byMonth.forEach((cost, month) => expect(cost).toBeCloseTo(120 * Math.exp((-2 * month) / 40), 9));
  // Later still: labour alone on top, at the last month that is looked at.
  expect(later).toBeCloseTo((120 + 180) * Math.exp((-2 * (6 * 24 + 399)) / 40), 9);
});

test('of those that are not susceptible nothing is spared by waiting, where none is renewed ahead', () => {
  const { byMonth, susceptible } = deferralCosts({ ...asked, share: 0.4 });
  // Bayes by hand: those that are susceptible and have come so far.
  const alive = Math.exp(-13 / 40);
  expect(susceptible).toBeCloseTo((0.4 * alive) / (0.4 * alive + 0.6), 12);
  byMonth.forEach((cost, month) =>
    expect(cost).toBeCloseTo(120 * (1 - susceptible + susceptible * Math.exp((-2 * month) / 40)), 9),
  );
});

/** The trapezoid rule in fine steps. */
function integral(of: (at: number) => number, end: number): number {
  const steps = 40_000;
  const step = end / steps;
  let sum = (of(0) + of(end)) / 2;
  for (let i = 1; i < steps; i += 1) sum += of(i * step);
  return sum * step;
}

test.each([
  { share: 1, ageNow: 60 },
  { share: 0.3, ageNow: 60 },
  { share: 1, ageNow: 0 },
  { share: 0.7, ageNow: 225 },
])('what wears costs what its parts are, by integration: %j', ({ share, ageNow }) => {
  const life = { shape: 4, scale: 100 };
  const alive = (age: number): number => Math.exp(-((age / life.scale) ** life.shape));
  const question = { ...asked, life, share, ageNow, failure: 2400 };
  const { byMonth, later, bestAge, susceptible } = deferralCosts(question);
  expect(susceptible).toBeCloseTo((share * alive(ageNow)) / (share * alive(ageNow) + 1 - share), 9);
  const atBest = alive(bestAge);
  const rate = (300 * atBest + 2400 * (1 - atBest)) / integral(alive, bestAge);
  const cost = (month: number, renewal: number): number => {
    const ahead = 2 * month;
    const still = (of: number): number => alive(ageNow + of) / alive(ageNow);
    const wears = 2400 * (1 - still(ahead)) + renewal * still(ahead) - rate * integral(still, ahead);
    return susceptible * wears + (1 - susceptible) * (renewal - (300 / bestAge) * ahead);
  };
  for (const month of [0, 1, 7, 23]) expect(byMonth[month]! / cost(month, 120)).toBeCloseTo(1, 5);
  const beyond = Array.from({ length: 12 }, (_, i) => cost(24 + 30 * i, 300));
  expect(later).toBeLessThanOrEqual(Math.min(...beyond) + 1e-6);
  expect(byMonth).toHaveLength(24);
});

test('no other age costs less in the long run than the best one', () => {
  const life = { shape: 4, scale: 100 };
  const { bestAge } = deferralCosts({ ...asked, life });
  const alive = (age: number): number => Math.exp(-((age / life.scale) ** life.shape));
  const rate = (age: number): number => (300 * alive(age) + 2400 * (1 - alive(age))) / integral(alive, age);
  for (const away of [0.9, 0.99, 1.01, 1.1]) expect(rate(bestAge)).toBeLessThan(rate(bestAge * away));
});
