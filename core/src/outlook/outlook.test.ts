import { usagePath } from '../usage/path.ts';
import type { School } from '../schools/schools.ts';
import { BELT, done, each, everywhere, FAULT, input, TODAY } from './belt.ts';
import { explain } from './explain.ts';
import { FLEET_YEARS } from './grid.ts';
import { daysToService, judgeVehicle, outlook } from './outlook.ts';
import { toldShape } from './part.ts';
import { openQuestions } from './questions.ts';
import type { OutlookInput } from './types.ts';

const row = (changes: Partial<OutlookInput> = {}) => outlook(input(changes)).rows[0]!;
const drawing = (changes: Partial<OutlookInput> = {}) => outlook(input(changes), { drawn: true }).drawing!;
const ribbon = (changes: Partial<OutlookInput> = {}) => drawing(changes).ribbons[0]!;

test('a service interval ends by distance or by days, whichever first', () => {
  const fast = usagePath([{ day: TODAY, km: 300_000 }], TODAY - 1000, 300);
  expect(daysToService(fast, { serviceKm: 15_000, serviceDays: 365 }, TODAY)).toBeCloseTo(
    15_000 / fast.rateKmPerDay,
    6,
  );
  expect(daysToService(input().path, { serviceKm: 15_000, serviceDays: 365 }, TODAY)).toBe(365);
});

test('renewing restarts the clock: the chance falls, the due date moves on, the book counts from there', () => {
  const [before, after] = [
    row({ services: [{ ...done(0), certainty: 'not_done', day: null }] }),
    row({ services: [done(30)] }),
  ];
  expect(before).toMatchObject({ verdict: 'renew', rule: 'customary' });
  expect(after.chance).toBeLessThan(before.chance / 50);
  expect(after.due === null || after.due.day > TODAY + 1000).toBe(true);
  expect(after.authorities[0]!.due!.day).toBeCloseTo(TODAY - 30 + 2922, 0);
  expect(before.authorities[1]!.due).toBeNull();
});

test('another component’s renewal changes nothing', () =>
  expect(row({ services: [done(30, { componentKey: 'pump' })] }).chance).toBe(row().chance));

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
  expect(row({ services: [done(30, { revision: 'B' })] })).toMatchObject({
    verdict: 'behind_it',
    rule: 'revised_part',
    due: null,
  });
  expect(row({ services: [done(2000, { grade: 'cheap' })] }).chance).toBeGreaterThan(
    row({ services: [done(2000)] }).chance,
  );
});

test('a clean look lowers the chance and the ribbon after it; a worn one holds the vehicle; renewing afterwards clears it', () => {
  const look = (worn: boolean) => ({
    findings: [
      {
        weakPointId: 'belt',
        day: TODAY - 10,
        result: worn ? ('worn' as const) : ('sound' as const),
        broughtIn: false,
        sinceDay: null,
      },
    ],
  });
  const seen = row(look(false));
  expect(seen.chance).toBeLessThan(row().chance / 2);
  expect(ribbon(look(false)).chance[16]).toBeLessThan(ribbon().chance[16]! / 1.5);
  const earlier = ribbon({
    findings: [{ weakPointId: 'belt', day: TODAY - 2000, result: 'sound' as const, broughtIn: false, sinceDay: null }],
  }).chance;
  // Bins of 182.6 days: the look 2000 days ago stands between the fifth and the sixth, and lowers what comes after it,
  // not before.
  expect(earlier.slice(0, 5)).toEqual(ribbon().chance.slice(0, 5));
  expect(earlier[6]).toBeLessThan(ribbon().chance[6]!);
  expect(row(look(true)).verdict).toBe('hold');
  expect(row({ ...look(true), services: [done(5)] }).verdict).not.toBe('hold');
});

test('the ribbon’s mass until a day is what the chance says: the first year sums to it', () => {
  const { edges, ribbons } = drawing();
  const { mass } = ribbons[0]!;
  expect(edges).toHaveLength(mass.length + 1);
  const now = edges.indexOf(TODAY);
  const year = mass.slice(now, now + 4).reduce((sum, part) => sum + part, 0);
  expect(year).toBeCloseTo(row().chance, 2);
  expect(mass.every((part) => part >= 0)).toBe(true);
});

test('what is due lies inside its range, and a firmer forecast narrows it', () => {
  const due = (rateSpread: number) => row({ rateSpread, services: [done(1200)] }).due!;
  const wide = due(0.3);
  expect(wide.earliestDay).toBeLessThan(wide.day);
  expect(wide.latestDay).toBeGreaterThan(wide.day);
  const firm = due(0.05);
  expect(firm.latestDay - firm.earliestDay).toBeLessThan((wide.latestDay - wide.earliestDay) / 3);
});

test('harder use is never less likely to fail', () =>
  expect(row({ severity: 1.5, services: [done(1500)] }).chance).toBeGreaterThan(
    row({ services: [done(1500)] }).chance,
  ));

test('what may not apply counts by its weight; what does not is listed with why', () => {
  const variants = [
    { key: 'a', name: 'A', howToTell: null, weight: 0.4 },
    { key: 'b', name: 'B', howToTell: null, weight: 0.6 },
  ];
  const maybe = outlook(
    input({ facts: { ...input().facts, variants }, weakPoints: [{ ...BELT, appliesTo: { variants: ['a'] } }] }),
  ).rows[0]!;
  expect(maybe.chance).toBeCloseTo(0.4 * row().chance, 9);
  expect(maybe.settle).toBe('A');
  const none = outlook(
    input({
      facts: { ...input().facts, variants: [variants[1]!] },
      weakPoints: [{ ...BELT, appliesTo: { variants: ['a'] } }],
    }),
  );
  expect(none.rows).toHaveLength(0);
  expect(none.excluded[0]!.because).toMatch(/not affected/);
});

test('of two that are far beyond their limit, the likelier is the more pressing', () => {
  const judged = (share: number) =>
    judgeVehicle(
      input({
        policy: { ...input().policy, limits: each(0.005) },
        weakPoints: [{ ...BELT, share }],
        services: [{ ...done(0), certainty: 'not_done', day: null }],
      }),
    ).rows[0]!;
  const [some, most] = [judged(0.5), judged(0.95)];
  expect(some.verdict).toBe(most.verdict);
  expect(some.chance).toBeGreaterThan(3 * some.limit);
  expect(most.rank).toBeLessThan(some.rank);
});

test('worst first', () => {
  const rows = outlook(
    input({
      weakPoints: [{ ...BELT, id: 'mild', share: 0.03 }, BELT, { ...BELT, id: 'stain', consequence: 'cosmetic' }],
      services: [{ ...done(0), certainty: 'not_done', day: null }],
    }),
  ).rows;
  expect(rows.map(({ weakPoint }) => weakPoint.id)[0]).toBe('belt');
  expect([...rows].sort((a, b) => a.rank - b.rank)).toEqual(rows);
});

describe('history as it is', () => {
  const engineOf = (km: number, fittedAgo: number) => ({
    path: usagePath([{ day: TODAY, km }], TODAY - fittedAgo, 41),
    fittedDay: TODAY - fittedAgo,
    assumed: false,
  });
  test('a swapped engine has clocks of its own; what is fitted to the vehicle keeps the vehicle’s', () => {
    const young = { engine: engineOf(9000, 300) };
    expect(row(young).chance).toBeLessThan(row().chance / 20);
    const onVehicle = { weakPoints: [{ ...BELT, fittedTo: 'vehicle' as const }] };
    expect(row({ ...young, ...onVehicle }).chance).toBe(row(onVehicle).chance);
  });
  test('work on the engine that was taken out counts no more', () => {
    const swapped = { engine: engineOf(60_000, 1200) };
    expect(row({ ...swapped, services: [done(2000)] }).installs[0]!.certainty).toBe('assumed');
    expect(row({ ...swapped, services: [done(100)] }).installs[0]!.certainty).toBe('done');
  });
  test('what has failed holds until it is renewed, and then this vehicle is known to be one of them', () => {
    const failure = {
      findings: [{ weakPointId: 'belt', day: TODAY - 40, result: 'failed' as const, broughtIn: false, sinceDay: null }],
      weakPoints: [{ ...FAULT, share: 0.1 }],
    };
    expect(row(failure)).toMatchObject({ verdict: 'hold', rule: 'failed_and_grave' });
    const renewed = { services: [done(40)] };
    expect(row({ ...failure, ...renewed }).verdict).not.toBe('hold');
    const fresh = { weakPoints: [{ ...FAULT, share: 0.1 }], services: [done(40)] };
    expect(row({ ...failure, ...renewed }).chance / row(fresh).chance).toBeCloseTo(10, 1);
  });
  test('an invoice is believed more than a seller’s word', () => {
    const believed = (source: 'invoice' | 'seller') =>
      row({ services: [done(400, { certainty: 'believed', source })] });
    expect(believed('invoice').chance).toBeLessThan(believed('seller').chance);
    expect(believed('invoice').installs[0]!.weight).toBeGreaterThan(believed('seller').installs[0]!.weight);
  });
  test('windows in engine hours run on the distance at the average speed of the use: short trips wear more', () => {
    const byHours = {
      weakPoints: [{ ...BELT, causes: [[{ clock: 'hours' as const, from: 2500, to: 5000 }]] }],
      services: [done(2500)],
    };
    expect(row(byHours).chance).toBeGreaterThan(0);
    expect(row({ ...byHours, duty: { shortTrips: 'much' } }).chance).toBeGreaterThan(row(byHours).chance);
  });
  test('answers about use count on the parts they touch', () => {
    const renewed = { services: [done(1500)] };
    expect(row({ ...renewed, duty: { longOil: 'much' } }).chance).toBeGreaterThan(row(renewed).chance);
    expect(row({ ...renewed, duty: { fuel: 'much' } }).chance).toBe(row(renewed).chance);
  });
});

describe('the workshop’s own experience', () => {
  const node = (scale: number, weight = 1) => ({ weight, scale, shape: toldShape(BELT), share: BELT.share });
  const seen = (...nodes: ReturnType<typeof node>[]) => ({
    weakPoints: [{ ...BELT, experience: { nodes, parts: 20, failures: 4 } }],
  });
  const renewed = { services: [done(2000)] };
  test('experience that says what is published changes nothing', () =>
    expect(row({ ...renewed, ...seen(node(1)) }).chance).toBeCloseTo(row(renewed).chance, 12));
  test('a shorter life on our vehicles raises the chance and brings the date forward, a longer one does the opposite', () => {
    expect(row({ ...renewed, ...seen(node(0.8)) }).chance).toBeGreaterThan(row(renewed).chance);
    expect(row({ ...renewed, ...seen(node(1.25)) }).chance).toBeLessThan(row(renewed).chance);
    expect(row({ ...renewed, ...seen(node(0.8)) }).due!.day).toBeLessThan(
      row({ ...renewed, ...seen(node(1.25)) }).due!.day,
    );
  });
  const old = { services: [{ ...done(0), certainty: 'not_done' as const, day: null }] };
  const mixed = [node(0.5, 0.5), node(2, 0.5)];
  test('for a vehicle that is not among the observations, having lived so long with a fault speaks for the longer life', () => {
    const faults = { weakPoints: [{ ...FAULT, experience: { nodes: mixed, parts: 20, failures: 4 } }] };
    expect(row({ ...old, ...faults, counted: false }).chance).toBeLessThan(
      row({ ...old, ...faults, counted: true }).chance,
    );
  });
  test('lives of what wears are about all vehicles: their chances are averaged, counted or not, looked at or not', () => {
    const alone = (scale: number, findings = {}) => row({ ...old, ...seen(node(scale)), ...findings }).chance;
    for (const findings of [
      {},
      {
        findings: [
          { weakPointId: 'belt', day: TODAY - 20, result: 'sound' as const, broughtIn: false, sinceDay: null },
        ],
      },
    ]) {
      const mean = (alone(0.5, findings) + alone(2, findings)) / 2;
      for (const counted of [false, true])
        expect(row({ ...old, ...seen(...mixed), ...findings, counted }).chance).toBeCloseTo(mean, 9);
    }
  });
});

describe('a fleet is judged as one vehicle is', () => {
  test('verdict, chance, date and order are those of the outlook; what comes due later than a list looks has no date', () => {
    const points = [
      BELT,
      { ...BELT, id: 'second', share: 0.1, consequence: 'leak' as const },
      { ...BELT, id: 'third', look: null },
    ];
    const asked = input({
      weakPoints: points,
      services: [done(900)],
      findings: [{ weakPointId: 'belt', day: TODAY - 30, result: 'sound', broughtIn: false, sinceDay: null }],
    });
    const facts = (
      rows: readonly {
        weakPoint: { id: string };
        verdict: string;
        chance: number;
        rank: number;
        due: { day: number } | null;
      }[],
    ) => rows.map(({ weakPoint, verdict, chance, rank, due }) => [weakPoint.id, verdict, chance, rank, due?.day]);
    const { rows } = outlook(asked);
    const near = rows.map((one) =>
      one.due !== null && one.due.day > TODAY + FLEET_YEARS * 365.25 ? { ...one, due: null } : one,
    );
    expect(facts(judgeVehicle(asked).rows)).toEqual(facts(near));
    expect(near.filter((one, i) => one.due !== rows[i]!.due).length).toBeGreaterThan(0);
  });
});

describe('why', () => {
  const why = (changes: Partial<OutlookInput> = {}) => explain(input(changes), 'belt')!;
  const otherwise = (ground: string, changes: Partial<OutlookInput> = {}): number =>
    why(changes).steps.find((step) => step.ground === ground)!.otherwise;
  test('starts from the chance of the row, and names only what it rests on', () => {
    expect(why().chance).toBe(row().chance);
    expect(why().steps.map(({ ground }) => ground)).toEqual(['original']);
    expect(why({ weakPoints: [FAULT] }).steps.map(({ ground }) => ground)).toEqual(['share', 'original']);
    expect(why({ weakPoints: [{ ...BELT, id: 'other' }] })).toBeNull();
    expect(explain(input(), 'nothing')).toBeNull();
  });
  test('without the looks it is the chance of a vehicle never looked at', () => {
    const findings = [
      { weakPointId: 'belt', day: TODAY - 20, result: 'sound' as const, broughtIn: false, sinceDay: null },
    ];
    expect(otherwise('looks', { findings })).toBe(row().chance);
  });
  test('without history, use and experience it is the chance that would have been told', () => {
    expect(otherwise('history', { services: [done(300)] })).toBe(row().chance);
    expect(otherwise('duty', { severity: 1.4, services: [done(1500)] })).toBe(row({ services: [done(1500)] }).chance);
    const experience = { nodes: [{ weight: 1, scale: 0.7, shape: 4, share: 0.9 }], parts: 9, failures: 3 };
    expect(otherwise('experience', { weakPoints: [{ ...BELT, experience }], services: [done(1500)] })).toBe(
      row({ services: [done(1500)] }).chance,
    );
  });
  test('the curve starts at certainty and never rises', () => {
    const { running } = why({ services: [done(1500)] });
    expect(running[0]).toEqual({ day: TODAY, chance: 1 });
    running.slice(1).forEach(({ chance }, i) => expect(chance).toBeLessThanOrEqual(running[i]!.chance));
  });
});

describe('questions', () => {
  const variants = [
    { key: 'a', name: 'Short ratchet', howToTell: 'two teeth', weight: 0.4 },
    { key: 'b', name: 'Long ratchet', howToTell: 'five teeth', weight: 0.6 },
  ];
  const ask = (changes: Partial<OutlookInput>) =>
    openQuestions(input({ services: [{ ...done(0), certainty: 'not_done', day: null }], ...changes }));
  test('an open variant that matters is asked for, with what to look at and what each answer would change', () => {
    const [question] = ask({
      facts: { ...input().facts, variants },
      weakPoints: [{ ...BELT, appliesTo: { variants: ['a'] }, retiredByRevision: null }],
    });
    expect(question).toMatchObject({
      about: 'variant',
      answers: [{ key: 'a', howToTell: 'two teeth', weight: 0.4 }, { key: 'b' }],
    });
    expect(question!.moves).toContainEqual(expect.objectContaining({ answer: 'Long ratchet', to: 'behind_it' }));
  });
  test('what would change no verdict is not asked', () => {
    expect(
      ask({
        facts: { ...input().facts, variants },
        weakPoints: [{ ...BELT, appliesTo: { variants: ['a'] }, consequence: 'cosmetic', retiredByRevision: null }],
      }).map(({ about }) => about),
    ).not.toContain('variant');
    expect(ask({ weakPoints: [{ ...BELT, retiredByRevision: null }] })).toEqual([]);
  });
  test('a feature is weighed by how many have it, and settles the row', () => {
    const knownFeatures = [{ key: 'ac', name: 'air conditioning', howToTell: 'a compressor at the front', share: 0.8 }];
    const weakPoints = [{ ...BELT, appliesTo: { features: { ac: true } }, retiredByRevision: null }];
    const facts = { ...input().facts, knownFeatures };
    expect(row({ facts, weakPoints }).appliesWeight).toBeCloseTo(0.8, 12);
    expect(ask({ facts, weakPoints }).find(({ about }) => about === 'feature:ac')).toMatchObject({
      ask: 'Does it have air conditioning?',
    });
    expect(outlook(input({ facts: { ...facts, features: { ac: false } }, weakPoints })).excluded[0]!.because).toBe(
      'only with air conditioning',
    );
  });
  test('an unknown history is asked for, and a record settles it', () => {
    const open = openQuestions(input({ weakPoints: [{ ...BELT, retiredByRevision: null }] }));
    expect(open.map(({ about }) => about)).toContain('history:belt');
    expect(openQuestions(input({ weakPoints: [{ ...BELT, retiredByRevision: null }], services: [done(100)] }))).toEqual(
      [],
    );
  });
  test('a part now fitted that ends the weak point is asked for where nobody knows, and believed when somebody looked', () => {
    const open = openQuestions(input());
    expect(open.map(({ about }) => about)).toContain('fitted:belt');
    expect(row({ facts: { ...input().facts, fitted: { belt: 'B' } } }).verdict).toBe('behind_it');
  });
  test('the most worthwhile comes first', () => {
    const worths = openQuestions(
      input({
        facts: { ...input().facts, variants },
        weakPoints: [
          { ...BELT, appliesTo: { variants: ['a'] } },
          { ...BELT, id: 'w2', componentKey: 'other', consequence: 'stranded' },
        ],
      }),
    ).map(({ worth }) => worth);
    expect(worths.length).toBeGreaterThan(1);
    expect([...worths].sort((a, b) => b - a)).toEqual(worths);
  });
});

describe('schools', () => {
  const follow = (school: School, changes: Partial<OutlookInput> = {}) =>
    row({ ...changes, policy: { ...input().policy, schools: everywhere(school) } });
  const view = (answer: ReturnType<typeof row>, school: School) =>
    answer.schools.find((candidate) => candidate.school === school)!;
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
    const cheap = row({
      ...renewed,
      policy: { ...input().policy, schools: everywhere('cost'), failureCost: each(10) },
    });
    expect(view(cheap, 'cost')).toMatchObject({ because: 'run_to_failure', due: null });
    expect(cheap.verdict).toBe('run_on');
    const safety = outlook(
      input({ policy: { ...input().policy, schools: everywhere('cost') }, weakPoints: [{ ...BELT, safety: true }] }),
    ).rows[0]!;
    expect(safety.followed).toBe('early');
    expect(safety.verdict).not.toBe('run_on');
  });

  test('Condition looks where looks can catch it, and says so where they cannot', () => {
    const slow = {
      ...BELT,
      consequence: 'leak' as const,
      look: { ...BELT.look!, warning: [{ clock: 'distance' as const, from: 60_000, to: 60_000 }] },
    };
    const policy = { ...input().policy, schools: everywhere('condition') };
    const seen = outlook(
      input({
        policy,
        weakPoints: [slow],
        services: [done(2500)],
        findings: [
          { weakPointId: 'belt', day: TODAY - 30, result: 'sound' as const, broughtIn: false, sinceDay: null },
        ],
      }),
    ).rows[0]!;
    const condition = seen.schools.find(({ school }) => school === 'condition')!;
    expect(condition.because).toBe('looks');
    expect(condition.due!.day).toBeCloseTo(TODAY - 30 + condition.everyDays!, 6);
    const hasty = outlook(
      input({
        policy,
        weakPoints: [{ ...BELT, look: { ...BELT.look!, warning: [{ clock: 'distance', from: 4000, to: 4000 }] } }],
      }),
    ).rows[0]!;
    expect(hasty.followed).toBe('early');
    expect(hasty.schools.find(({ school }) => school === 'condition')).toMatchObject({
      because: 'looks_too_seldom',
      asks: 'look',
    });
  });

  test('a school chosen for the vehicle beats the shop’s, one for the row beats both, and the reason is kept', () => {
    const vehicle = { weakPointId: null, school: 'book' as const, reason: 'fleet contract' };
    const one = { weakPointId: 'belt', school: 'cost' as const, reason: 'goes to the breaker in spring' };
    expect(row({ choices: [vehicle] }).followedBecause).toEqual({
      by: 'vehicle',
      wanted: 'book',
      reason: 'fleet contract',
    });
    expect(row({ choices: [one, vehicle] })).toMatchObject({
      followed: 'cost',
      followedBecause: { by: 'row', reason: 'goes to the breaker in spring' },
    });
    expect(row({ choices: [one], weakPoints: [{ ...BELT, safety: true }] })).toMatchObject({
      followed: 'early',
      followedBecause: { by: 'safety', wanted: 'cost' },
    });
    expect(row().followedBecause).toEqual({ by: 'shop', wanted: 'early', reason: null });
  });

  test('a school without an interval to go by leaves the word to Early', () => {
    expect(
      outlook(
        input({
          policy: { ...input().policy, schools: everywhere('book') },
          weakPoints: [{ ...BELT, statements: [BELT.statements[1]!] }],
        }),
      ).rows[0]!.followed,
    ).toBe('early');
  });
});
