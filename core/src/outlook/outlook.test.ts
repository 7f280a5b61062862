import { DEFAULT_DUTY_FACTORS } from '../duty/duty.ts';
import { dayFromIso } from '../units/day.ts';
import { usagePath } from '../usage/path.ts';
import type { School } from '../schools/schools.ts';
import { CONSEQUENCES, DEFAULT_LIMITS, type Consequence } from '../verdict/verdict.ts';
import { daysToService, outlook } from './outlook.ts';
import type { OutlookInput, WeakPointFact } from './types.ts';

const TODAY = dayFromIso('2026-11-24')!;
const BELT: WeakPointFact = {
  id: 'belt', key: 'belt', title: 'Timing belt breaks', component: 'Timing belt', componentKey: 'belt', componentClass: 'rubber', group: 'timing', consequence: 'engine', safety: false,
  effect: '', signs: '', share: 0.95, causes: [[{ clock: 'distance', from: 110_000, to: 200_000 }]],
  look: { how: '', minutes: 20, detection: 0.8, falseAlarm: 0.02, warning: [{ clock: 'distance', from: 20_000, to: 20_000 }] },
  renewMinutes: 170, partPrice: 15_900, appliesTo: {}, retiredByRevision: 'B', customKm: 120_000, fittedTo: 'engine', revisedHowToTell: null, experience: null,
  statements: [
    { authority: 'Book', kind: 'book', edition: null, region: null, words: '', interval: [{ clock: 'distance', from: 120_000, to: 120_000 }, { clock: 'age', from: 2922, to: 2922 }] },
    { authority: 'Shed', kind: 'specialist', edition: null, region: null, words: '', interval: [] },
  ],
};

const each = <T>(value: T): Record<Consequence, T> => Object.fromEntries(CONSEQUENCES.map((consequence) => [consequence, value])) as Record<Consequence, T>;
const everywhere = (school: School): Record<Consequence, School> => each(school);

const input = (changes: Partial<OutlookInput> = {}): OutlookInput => ({
  today: TODAY, path: usagePath([{ day: TODAY, km: 120_000 }], TODAY - 3650, 41), rateSpread: 0.2, severity: 1, engine: null, duty: {}, counted: false, choices: [],
  facts: { variants: [], model: null, market: null, producedDay: null, producedSlackDays: 0, features: {} },
  weakPoints: [BELT], services: [], findings: [], policy: { serviceKm: 15_000, serviceDays: 365, limits: DEFAULT_LIMITS, safetyLimit: 0.01, schools: everywhere('early'), failureCost: each(400_000), labourCostPerMinute: 160, dutyFactors: DEFAULT_DUTY_FACTORS }, ...changes,
});
const row = (changes: Partial<OutlookInput> = {}) => outlook(input(changes)).rows[0]!;
const done = (daysAgo: number, more: object = {}) => ({ componentKey: 'belt', certainty: 'done' as const, day: TODAY - daysAgo, grade: 'original' as const, revision: null, source: null, cameOut: null, ...more });

test('a service interval ends by distance or by days, whichever first', () => {
  const fast = usagePath([{ day: TODAY, km: 300_000 }], TODAY - 1000, 300);
  expect(daysToService(fast, { serviceKm: 15_000, serviceDays: 365 }, TODAY)).toBeCloseTo(15_000 / fast.rateKmPerDay, 6);
  expect(daysToService(input().path, { serviceKm: 15_000, serviceDays: 365 }, TODAY)).toBe(365);
});

test('renewing restarts the clock: the chance falls, the due date moves on, the book counts from there', () => {
  const [before, after] = [row({ services: [{ ...done(0), certainty: 'not_done', day: null }] }), row({ services: [done(30)] })];
  expect(before).toMatchObject({ verdict: 'look', rule: 'over_limit_warns' });
  expect(after.chance).toBeLessThan(before.chance / 50);
  expect(after.due === null || after.due.day > TODAY + 1000).toBe(true);
  expect(after.authorities[0]!.due!.day).toBeCloseTo(TODAY - 30 + 2922, 0);
  expect(before.authorities[1]!.due).toBeNull();
});

test('another component’s renewal changes nothing', () => expect(row({ services: [done(30, { componentKey: 'pump' })] }).chance).toBe(row().chance));

test('nobody knows lies between known original and known renewed; believed lies between renewed and unknown', () => {
  const original = row({ services: [{ ...done(0), certainty: 'not_done', day: null }] }).chance;
  const unknown = row().chance;
  const believed = row({ services: [done(400, { certainty: 'believed' })] }).chance;
  const renewed = row({ services: [done(400)] }).chance;
  expect(original).toBeGreaterThan(unknown);
  expect(unknown).toBeGreaterThan(believed);
  expect(believed).toBeGreaterThan(renewed);
});

test('the revised part ends it, a cheap part lives shorter', () => {
  expect(row({ services: [done(30, { revision: 'B' })] })).toMatchObject({ verdict: 'behind_it', rule: 'revised_part', due: null });
  expect(row({ services: [done(2000, { grade: 'cheap' })] }).chance).toBeGreaterThan(row({ services: [done(2000)] }).chance);
});

test('a clean look lowers the chance and the ribbon after it; a worn one holds the vehicle; renewing afterwards clears it', () => {
  const look = (worn: boolean) => ({ findings: [{ weakPointId: 'belt', day: TODAY - 10, result: worn ? 'worn' as const : 'sound' as const, broughtIn: false, sinceDay: null }] });
  const seen = row(look(false));
  expect(seen.chance).toBeLessThan(row().chance / 2);
  expect(seen.ribbon.chance[16]).toBeLessThan(row().ribbon.chance[16]! / 1.5);
  const earlier = row({ findings: [{ weakPointId: 'belt', day: TODAY - 2000, result: 'sound' as const, broughtIn: false, sinceDay: null }] }).ribbon.chance;
  // Bins of 182.6 days: the look 2000 days ago stands between the fifth and the sixth, and lowers what comes after it, not before.
  expect(earlier.slice(0, 5)).toEqual(row().ribbon.chance.slice(0, 5));
  expect(earlier[6]).toBeLessThan(row().ribbon.chance[6]!);
  expect(row(look(true)).verdict).toBe('hold');
  expect(row({ ...look(true), services: [done(5)] }).verdict).not.toBe('hold');
});

test('the ribbon’s mass until a day is what the chance says: the first year sums to it', () => {
  const { rows, ribbonEdges } = outlook(input());
  const { chance, ribbon } = rows[0]!;
  expect(ribbonEdges).toHaveLength(ribbon.mass.length + 1);
  const now = ribbonEdges.indexOf(TODAY);
  const year = ribbon.mass.slice(now, now + 4).reduce((sum, mass) => sum + mass, 0);
  expect(year).toBeCloseTo(chance, 2);
  expect(ribbon.mass.every((mass) => mass >= 0)).toBe(true);
});

test('what is due lies inside its range, and a firmer forecast narrows it', () => {
  const due = (rateSpread: number) => row({ rateSpread, services: [done(1200)] }).due!;
  const wide = due(0.3);
  expect(wide.earliestDay).toBeLessThan(wide.day);
  expect(wide.latestDay).toBeGreaterThan(wide.day);
  const firm = due(0.05);
  expect(firm.latestDay - firm.earliestDay).toBeLessThan((wide.latestDay - wide.earliestDay) / 3);
});

test('harder use is never less likely to fail', () => expect(row({ severity: 1.5, services: [done(1500)] }).chance).toBeGreaterThan(row({ services: [done(1500)] }).chance));

test('what may not apply counts by its weight; what does not is listed with why', () => {
  const variants = [{ key: 'a', name: 'A', howToTell: null, weight: 0.4 }, { key: 'b', name: 'B', howToTell: null, weight: 0.6 }];
  const maybe = outlook(input({ facts: { ...input().facts, variants }, weakPoints: [{ ...BELT, appliesTo: { variants: ['a'] } }] })).rows[0]!;
  expect(maybe.chance).toBeCloseTo(0.4 * row().chance, 9);
  expect(maybe.settle).toBe('A');
  const none = outlook(input({ facts: { ...input().facts, variants: [variants[1]!] }, weakPoints: [{ ...BELT, appliesTo: { variants: ['a'] } }] }));
  expect(none.rows).toHaveLength(0);
  expect(none.excluded[0]!.because).toMatch(/not affected/);
});

test('worst first', () => {
  const rows = outlook(input({ weakPoints: [{ ...BELT, id: 'mild', share: 0.03 }, BELT, { ...BELT, id: 'stain', consequence: 'cosmetic' }], services: [{ ...done(0), certainty: 'not_done', day: null }] })).rows;
  expect(rows.map(({ weakPoint }) => weakPoint.id)[0]).toBe('belt');
  expect([...rows].sort((a, b) => a.rank - b.rank)).toEqual(rows);
});

describe('schools', () => {
  const follow = (school: School, changes: Partial<OutlookInput> = {}) => row({ ...changes, policy: { ...input().policy, schools: everywhere(school) } });
  const view = (answer: ReturnType<typeof row>, school: School) => answer.schools.find((candidate) => candidate.school === school)!;
  const renewed = { services: [done(1000)] };

  test('all four stand side by side, and the one followed gives the due date', () => {
    for (const school of ['book', 'early', 'cost'] as const) {
      const answer = follow(school, renewed);
      expect(answer.schools.map((candidate) => candidate.school)).toEqual(['book', 'early', 'condition', 'cost']);
      expect(answer.followed).toBe(school);
      expect(answer.due?.day ?? null).toBe(view(answer, school).due?.day ?? null);
    }
  });

  test('Book counts from the last renewal: 120,000 km or eight years, whichever first', () => {
    const { due } = view(follow('book', renewed), 'book');
    expect(due!.day).toBeCloseTo(TODAY - 1000 + Math.min(2922, 120_000 / (120_000 / 3650)), -1);
  });

  test('Cost renews a dear failure, lets a cheap one run, and never touches what safety forbids it', () => {
    expect(view(follow('cost', renewed), 'cost')).toMatchObject({ because: 'least_cost' });
    const cheap = row({ ...renewed, policy: { ...input().policy, schools: everywhere('cost'), failureCost: each(10) } });
    expect(view(cheap, 'cost')).toMatchObject({ because: 'run_to_failure', due: null });
    expect(cheap.verdict).toBe('run_on');
    const safety = outlook(input({ policy: { ...input().policy, schools: everywhere('cost') }, weakPoints: [{ ...BELT, safety: true }] })).rows[0]!;
    expect(safety.followed).toBe('early');
    expect(safety.verdict).not.toBe('run_on');
  });

  test('Condition looks where looks can catch it, and says so where they cannot', () => {
    const slow = { ...BELT, consequence: 'leak' as const, look: { ...BELT.look!, warning: [{ clock: 'distance' as const, from: 60_000, to: 60_000 }] } };
    const policy = { ...input().policy, schools: everywhere('condition') };
    const seen = outlook(input({ policy, weakPoints: [slow], services: [done(2500)], findings: [{ weakPointId: 'belt', day: TODAY - 30, result: 'sound' as const, broughtIn: false, sinceDay: null }] })).rows[0]!;
    const condition = seen.schools.find(({ school }) => school === 'condition')!;
    expect(condition.because).toBe('looks');
    expect(condition.due!.day).toBeCloseTo(TODAY - 30 + condition.everyDays!, 6);
    const hasty = outlook(input({ policy, weakPoints: [{ ...BELT, look: { ...BELT.look!, warning: [{ clock: 'distance', from: 4000, to: 4000 }] } }] })).rows[0]!;
    expect(hasty.followed).toBe('early');
    expect(hasty.schools.find(({ school }) => school === 'condition')!.because).toBe('looks_too_seldom');
  });

  test('a school without an interval to go by leaves the word to Early', () => {
    expect(outlook(input({ policy: { ...input().policy, schools: everywhere('book') }, weakPoints: [{ ...BELT, statements: [BELT.statements[1]!] }] })).rows[0]!.followed).toBe('early');
  });
});
