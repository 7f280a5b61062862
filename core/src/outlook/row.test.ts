import { susceptibleGivenAlive } from '../life/hazard.ts';
import { asTold, conditionalRisk, hazardBetween, hazardSinceInstall, type Inspection } from '../life/risk.ts';
import { BELT, done, each, everywhere, FAULT, input, TODAY } from './belt.ts';
import { ageClock, distanceClock } from '../usage/clock.ts';
import { usagePath } from '../usage/path.ts';
import { livesOf, neverRenewed } from './part.ts';
import { asksForWork, VERDICTS } from '../decision/kinds.ts';
import { judgeVehicle, outlook } from './outlook.ts';
import type { FindingFact, OutlookInput, OutlookRow, WeakPointFact } from './types.ts';

const row = (changes: Partial<OutlookInput> = {}) => outlook(input(changes)).rows[0]!;
const found = (daysAgo: number, result: FindingFact['result'], more: Partial<FindingFact> = {}): FindingFact => ({
  weakPointId: 'belt',
  day: TODAY - daysAgo,
  result,
  broughtIn: false,
  sinceDay: null,
  ...more,
});
const path = input().path;
const clocks = { distance: distanceClock(path) };
const life = asTold(livesOf(BELT, clocks, { distance: 1, age: 1 }, 'original'));
const risk = (installDay: number, inspections: readonly Inspection[], share = 1): number =>
  conditionalRisk({ life, share, installDay, nowDay: TODAY, stepDays: 365, inspections }).risk;
const look = (daysAgo: number, worn: boolean): Inspection => ({
  day: TODAY - daysAgo,
  worn,
  detection: 0.8,
  falseAlarm: 0.02,
  warning: [{ clock: clocks.distance, length: 20_000 }],
});
const renewed = [done(1500)];

describe('which findings speak about the part that is in', () => {
  test('those of this weak point, until today, each as what it found', () => {
    expect(row({ services: renewed }).chance).toBeCloseTo(risk(TODAY - 1500, []), 9);
    expect(row({ services: renewed, findings: [found(200, 'sound')] }).chance).toBeCloseTo(
      risk(TODAY - 1500, [look(200, false)]),
      9,
    );
    expect(row({ services: renewed, findings: [found(300, 'sound'), found(20, 'worn')] }).chance).toBeCloseTo(
      risk(TODAY - 1500, [look(300, false), look(20, true)]),
      9,
    );
    expect(row({ services: renewed, findings: [found(0, 'sound')] }).looks).toEqual([{ day: TODAY, result: 'sound' }]);
    for (const other of [found(200, 'sound', { weakPointId: 'pump' }), found(-3, 'sound')])
      expect(row({ services: renewed, findings: [other] })).toEqual(row({ services: renewed }));
  });

  test('on the day of the renewal worn is about the part that came out, sound about the one that went in', () => {
    const looks = (result: FindingFact['result'], daysAgo: number): number =>
      row({ services: renewed, findings: [found(daysAgo, result)] }).looks.length;
    expect([looks('sound', 1500), looks('worn', 1500), looks('failed', 1500)]).toEqual([1, 0, 0]);
    expect([looks('worn', 1499), looks('sound', 1501)]).toEqual([1, 0]);
    expect(row({ findings: [found(1500, 'worn')] }).looks).toHaveLength(1);
  });

  test('the last of them says whether it is worn or has failed, in whichever order they were written', () => {
    const worn = [found(10, 'worn'), found(100, 'sound')];
    expect(row({ services: renewed, findings: worn }).rule).toMatch(/^worn/);
    expect(row({ services: renewed, findings: [...worn].reverse() }).rule).toMatch(/^worn/);
    expect(row({ services: renewed, findings: [found(10, 'sound'), found(100, 'worn')] }).rule).not.toMatch(/^worn/);
    expect(row({ services: renewed, findings: [found(10, 'failed'), found(100, 'sound')] }).rule).toBe(
      'failed_and_grave',
    );
  });

  test('an engine from elsewhere: what was found before it came was about the other', () => {
    const engine = { path, fittedDay: TODAY - 500, assumed: false };
    const services = [done(400)];
    const at = (daysAgo: number): number => row({ engine, services, findings: [found(daysAgo, 'sound')] }).looks.length;
    expect([at(399), at(400), at(501)]).toEqual([1, 1, 0]);
    expect(row({ engine, findings: [found(500, 'sound')] }).looks).toHaveLength(1);
    expect(row({ engine, findings: [found(501, 'sound')] }).looks).toHaveLength(0);
  });

  test('a fault that has failed here once is in this vehicle; another’s failure, or a look, says nothing of that', () => {
    const share = (findings: readonly FindingFact[]): number =>
      row({ weakPoints: [FAULT], services: [done(100)], findings }).chance;
    const none = share([]);
    expect(share([found(900, 'failed')])).toBeGreaterThan(none * 1.001);
    expect(share([found(900, 'worn')])).toBe(none);
    expect(share([found(900, 'failed', { weakPointId: 'pump' })])).toBe(none);
  });
});

describe('what a look would settle', () => {
  const services = [done(2600)];
  /** The belt at a limit that is this part of its chance. */
  const verdict = (changes: Partial<WeakPointFact>, part: number, more: Partial<OutlookInput> = {}) => {
    const weakPoints = [{ ...BELT, ...changes }];
    const { chance } = row({ weakPoints, services });
    const limits = { ...input().policy.limits, engine: chance * part };
    return row({ weakPoints, services, policy: { ...input().policy, limits }, ...more }).rule;
  };
  const detecting = (detection: number, length = 20_000): Partial<WeakPointFact> => ({
    look: { ...BELT.look!, detection, warning: [{ clock: 'distance', from: length, to: length }] },
  });
  /** What a good look today leaves of the chance, reckoned by the kernel for one part. */
  const left = (detection: number, length: number): number =>
    risk(TODAY - 2600, [{ ...look(0, false), detection, warning: [{ clock: clocks.distance, length }] }]) /
    risk(TODAY - 2600, []);

  test('is what a good look leaves of the chance until the next service', () => {
    const rest = left(0.6, 20_000);
    expect(rest).toBeLessThan(0.45);
    expect(verdict(detecting(0.6), rest * 1.01)).toBe('over_limit_warns');
    expect(verdict(detecting(0.6), rest * 0.99)).toBe('over_limit_beyond_a_look');
  });
  test('wear that shows for less than one interval is left in part', () => {
    const half = path.rateKmPerDay * 182;
    const rest = left(0.8, half);
    expect(rest).toBeGreaterThan(0.5);
    expect(verdict(detecting(0.8, half), rest * 1.01)).toBe('over_limit_warns');
    expect(verdict(detecting(0.8, half), rest * 0.99)).toBe('over_limit_beyond_a_look');
    expect(verdict({ look: null }, 0.9)).toBe('over_limit');
  });
  test('one for which more comes off than for the renewal is none', () => {
    const off = (offMinutes: number) => verdict({ look: { ...BELT.look!, offMinutes } }, 0.9);
    expect([off(BELT.renewMinutes), off(BELT.renewMinutes + 1)]).toEqual([
      'over_limit_warns',
      'over_limit_beyond_a_look',
    ]);
  });
  test('once it was good it is left until its limit is crossed, and looked at again by then', () => {
    const good = { findings: [found(0, 'sound')] };
    expect(verdict(detecting(0.6), left(0.6, 20_000) * 1.01, good)).toBe('below_limit');
    expect(verdict(detecting(0.6), left(0.6, 20_000) * 0.9, good)).toBe('looked_at');
    // A look that is told again after so long is not asked for before.
    const told: Partial<WeakPointFact> = {
      statements: [
        { ...BELT.statements[0]!, asks: 'look', interval: [{ clock: 'age', from: 100, to: 100 }] },
        BELT.statements[0]!,
      ],
    };
    const after = (daysAgo: number) => verdict(told, 1.2, { findings: [found(daysAgo, 'sound')] });
    expect([after(99), after(101)]).toEqual(['below_limit', 'interval_look']);
  });
});

describe('what hastens it', () => {
  test('a feature it has, or how it is used, makes it live faster, by so much and on its clock', () => {
    const fast = { ...BELT, causes: [[{ clock: 'distance' as const, from: 110_000 / 1.5, to: 200_000 / 1.5 }]] };
    const wanted = row({ weakPoints: [fast], services: renewed }).chance;
    const facts = { ...input().facts, features: { cooler: true } };
    const byFeature = { ...BELT, hastens: [{ feature: 'cooler', factor: 1.5 }] };
    expect(row({ weakPoints: [byFeature], services: renewed, facts }).chance).toBeCloseTo(wanted, 12);
    expect(row({ weakPoints: [byFeature], services: renewed }).chance).toBe(row({ services: renewed }).chance);
    const duty = { load: 'much' as const };
    const byUse = { ...BELT, hastens: [{ use: 'load' as const, factor: 1.5 }] };
    const towed = row({ weakPoints: [byUse], services: renewed, duty }).chance;
    expect(towed).toBeGreaterThan(row({ services: renewed, duty }).chance);
  });
});

describe('the share that is left of a fault', () => {
  test('is what having lived, and the looks, leave of it', () => {
    const fault = { ...FAULT, share: 0.4 };
    const told = asTold(livesOf(fault, clocks, { distance: 1, age: 1 }, 'original'));
    const alive = susceptibleGivenAlive(0.4, hazardSinceInstall(told, TODAY - 3000, TODAY));
    const bare = row({ weakPoints: [fault], services: [done(3000)] });
    expect(bare.shareLeft).toBeCloseTo(alive / 0.4, 9);
    const { susceptibleGivenLooks } = conditionalRisk({
      life: told,
      share: 0.4,
      installDay: TODAY - 3000,
      nowDay: TODAY,
      stepDays: 365,
      inspections: [look(30, false)],
    });
    expect(row({ weakPoints: [fault], services: [done(3000)], findings: [found(30, 'sound')] }).shareLeft).toBeCloseTo(
      susceptibleGivenLooks / 0.4,
      9,
    );
  });
});

describe('when it is due', () => {
  const at = (factor: number, more: Partial<OutlookInput> = {}) => {
    const base = row({ services: renewed }).chance;
    const policy = { ...input().policy, limits: { ...input().policy.limits, engine: base * factor } };
    return row({ services: renewed, policy, ...more });
  };
  test('over its limit it is by the day on which that much of the chance is spent', () => {
    expect(at(0.5).rule).toMatch(/^over_limit/);
    const spent = conditionalRisk({
      life,
      share: 1,
      installDay: TODAY - 1500,
      nowDay: TODAY,
      stepDays: at(0.5).due!.day - TODAY,
      inspections: [],
    }).risk;
    expect(spent / row({ services: renewed }).chance).toBeGreaterThan(0.5);
    expect(spent / row({ services: renewed }).chance).toBeLessThan(0.5 + 2 / 365);
    expect(at(0.999).due!.day).toBeGreaterThan(at(0.5).due!.day);
    expect(at(0.999).due!.day).toBeLessThanOrEqual(TODAY + 365);
  });

  test('what is further away than the next service has the date of its school', () => {
    const later = at(40);
    expect(later.rule).toBe('below_limit');
    expect(later.due!.day).toBeGreaterThan(TODAY + 365);
  });

  test('what is at its limit is over it: it is asked for today, however the dates ahead are looked for', () => {
    // What is looked ahead with knows fewer parts than what is judged: here it comes to less.
    const open: Partial<OutlookInput> = {
      services: [],
      path: usagePath([{ day: TODAY, km: 190_000 }], TODAY - 3650, 41),
    };
    const { chance } = row(open);
    const limited = (limit: number) => {
      const policy = { ...input().policy, limits: { ...input().policy.limits, engine: limit } };
      return row({ ...open, policy }).schools.find(({ school }) => school === 'early')!.due!.day;
    };
    expect(limited(chance)).toBe(TODAY);
    expect(limited(chance * 1.001)).toBeGreaterThan(TODAY);
  });

  test('what holds a vehicle is due today; what is looked at because it is near, by the next service', () => {
    const held = row({ services: renewed, findings: [found(5, 'failed')] });
    expect([held.verdict, held.due!.day, held.due!.latestDay]).toEqual(['hold', TODAY, TODAY]);
    const near = at(2.9);
    expect(near.rule).toBe('near_limit');
    expect(near.due!.day).toBeLessThanOrEqual(TODAY + 365);
  });

  test('whatever asks for work has a date, under every school', () => {
    for (const school of ['book', 'early', 'condition', 'cost'] as const)
      for (const daysAgo of [0, 700, 1500, 2600, 3600])
        for (const proofFor of [[], ['engine'] as const]) {
          const policy = { ...input().policy, proofFor, schools: everywhere(school) };
          for (const services of [[done(daysAgo)], []]) {
            const answer = row({ services, policy });
            if (asksForWork(answer.verdict)) expect(answer.due).not.toBeNull();
          }
        }
  });

  test('the range moves with the spread of the rate, as far as its hazard runs on distance', () => {
    const half: WeakPointFact = {
      ...BELT,
      causes: [[{ clock: 'distance', from: 110_000, to: 200_000 }], [{ clock: 'age', from: 4000, to: 8000 }]],
    };
    const services = renewed;
    for (const weakPoint of [BELT, half]) {
      const { due } = row({ weakPoints: [weakPoint], services });
      const ahead = due!.day - TODAY;
      const both = asTold(livesOf(weakPoint, { ...clocks, age: ageClock }, { distance: 1, age: 1 }, 'original'));
      const all = hazardBetween(both, TODAY - 1500, TODAY, due!.day);
      const moved = (0.2 * hazardBetween(life, TODAY - 1500, TODAY, due!.day)) / all;
      expect(due!.earliestDay).toBeCloseTo(TODAY + ahead / (1 + moved), 6);
      expect(due!.latestDay).toBeCloseTo(TODAY + ahead * (1 + moved), 6);
    }
  });

  test('a list of vehicles has no date for what comes due after three years, and the same for what comes before', () => {
    const shown = row({ services: [done(200)] });
    const [listed] = judgeVehicle(input({ services: [done(200)] })).rows;
    expect(shown.due!.day).toBeGreaterThan(TODAY + 3 * 365.25);
    expect(listed!.due).toBeNull();
    // On the last day itself it has one.
    const age = (to: number): WeakPointFact => ({
      ...BELT,
      statements: [{ ...BELT.statements[0]!, interval: [{ clock: 'age', from: to, to }] }],
    });
    const book = { ...input().policy, schools: everywhere('book') };
    const listedDue = (to: number) =>
      judgeVehicle(input({ services: [done(200)], weakPoints: [age(to)], policy: book })).rows[0]!.due?.day;
    expect(listedDue(200 + 3 * 365.25)).toBe(TODAY + 3 * 365.25);
    expect(listedDue(201 + 3 * 365.25)).toBeUndefined();
    const near = judgeVehicle(input({ services: renewed })).rows[0]!;
    expect(near.due).toEqual(row({ services: renewed }).due);
  });
});

describe('a later part that lives otherwise', () => {
  const revisions = [{ revision: 'C', causes: [[{ clock: 'distance', from: 220_000, to: 400_000 } as const]] }];
  const weakPoints = [{ ...BELT, retiredByRevision: null, revisions }];
  const at = (revision: string | null): number => row({ weakPoints, services: [done(3000, { revision })] }).chance;
  test('is judged by its own window, whether a record or somebody who looked says that it is fitted', () => {
    const own = row({
      weakPoints: [{ ...BELT, retiredByRevision: null, causes: revisions[0]!.causes }],
      services: [done(3000)],
    }).chance;
    expect(at('C')).toBe(own);
    expect(at('C')).toBeLessThan(at('B'));
    const facts = { ...input().facts, fitted: { belt: 'C' } };
    expect(row({ weakPoints, services: [done(3000)], facts }).chance).toBe(own);
  });
  test('may end the weak point, beside one that only lives longer', () => {
    const both = [{ ...weakPoints[0]!, revisions: [...revisions, { revision: 'D', ends: true as const, causes: [] }] }];
    expect(row({ weakPoints: both, services: [done(3000, { revision: 'D' })] }).rule).toBe('revised_part');
    expect(row({ weakPoints: both, services: [done(3000, { revision: 'C' })] }).rule).not.toBe('revised_part');
    // Of one that ends it no window is told: were it judged, it would be by the usual one.
    expect(row({ weakPoints: both, services: [done(3000, { revision: 'D' })] }).chance).toBe(at('B'));
  });
  test('any other part, and one of which nobody knows, by the usual one', () => {
    expect(at('B')).toBe(row({ services: [done(3000)] }).chance);
    expect(at(null)).toBe(at('B'));
  });
});

describe('what says nothing of the chance', () => {
  test('a look at something that cannot be looked at', () => {
    const blind = [{ ...BELT, look: null }];
    const seen = { weakPoints: blind, services: renewed, findings: [found(100, 'sound')] };
    expect(row(seen).chance).toBe(row({ weakPoints: blind, services: renewed }).chance);
    expect(row(seen).looks).toHaveLength(1);
  });
  test('what has failed is no chance: it is certain, and has a day', () => {
    const failed = row({ services: renewed, findings: [found(100, 'failed')] });
    expect([failed.chance, failed.already]).toEqual([1, 1]);
    expect(failed.looks.at(-1)).toEqual({ day: TODAY - 100, result: 'failed' });
    expect(row({ services: [done(50)], findings: [found(100, 'failed')] }).chance).toBeLessThan(0.01);
  });
  test('what was found before a renewal that is only believed may be about the part that is in', () => {
    const believed = [done(300, { certainty: 'believed' })];
    expect(row({ services: believed, findings: [found(500, 'sound')] }).looks).toHaveLength(1);
  });
});

test('worn or failed is what the last of three found, and of one', () => {
  expect(row({ services: renewed, findings: [found(5, 'worn')] }).rule).toMatch(/^worn/);
  const three = [found(300, 'sound'), found(200, 'sound'), found(5, 'failed')];
  expect(row({ services: renewed, findings: three }).rule).toBe('failed_and_grave');
});

test('the next service is an interval after today, on the calendar and on the meter', () => {
  const { now, nextService } = outlook(input());
  expect(now).toEqual({ day: TODAY, km: 120_000 });
  expect(nextService.day).toBeCloseTo(TODAY + 365, 9);
  expect(nextService.km).toBeCloseTo(120_000 + 365 * path.rateKmPerDay, 6);
});

describe('the school that is followed', () => {
  test('the limit is Early’s: where Cost lets it run, nothing is over it', () => {
    const cheap: OutlookInput['policy'] = { ...input().policy, schools: everywhere('cost'), failureCost: each(0) };
    // Nobody asks for it by an interval, so that the school alone decides.
    const weakPoints = [{ ...BELT, statements: [] }];
    for (const daysAgo of [2000, 3300]) {
      const answer = row({ weakPoints, services: [done(daysAgo)], policy: cheap });
      expect(answer.followed).toBe('cost');
      expect(answer.rule).toBe('below_limit');
    }
    expect(row({ weakPoints, services: [done(3300)] }).rule).toMatch(/^over_limit/);
  });
  test('a list has no date for what a book asks for only after three years either', () => {
    const policy2 = { ...input().policy, schools: everywhere('book') };
    const asked = input({ services: [done(100)], policy: policy2 });
    const [listed] = judgeVehicle(asked).rows;
    const shown = outlook(asked).rows[0]!;
    expect(shown.due!.day).toBeGreaterThan(TODAY + 3 * 365.25);
    expect(listed).toMatchObject({ due: null, verdict: shown.verdict, chance: shown.chance, rank: shown.rank });
  });

  const policy = (school: 'book' | 'condition' | 'early' | 'cost'): OutlookInput['policy'] => ({
    ...input().policy,
    schools: everywhere(school),
    limits: each(0.9),
  });
  test('asks for the work where its date lies before the next service, and only then', () => {
    const book = (daysAgo: number) => row({ services: [done(daysAgo)], policy: policy('book') });
    const span = 2922 - 365;
    expect(book(span).rule).toBe('school_renews');
    expect(book(span - 1).rule).not.toBe('school_renews');
    expect(row({ services: [done(span)], policy: policy('early') }).rule).not.toBe('school_renews');
  });
  test('is due by its date, also where that has passed', () => {
    // Nothing stops of it: a passed interval is the school’s to ask for.
    const weakPoints: WeakPointFact[] = [{ ...BELT, consequence: 'leak' }];
    const due = (daysAgo: number) => row({ weakPoints, services: [done(daysAgo)], policy: policy('book') }).due!;
    expect(due(2922 - 200).day).toBe(TODAY + 200);
    expect(due(2922 + 100)).toMatchObject({ day: TODAY - 100, earliestDay: TODAY - 100, latestDay: TODAY - 100 });
  });
  test('Condition asks for a look', () =>
    expect(
      row({ weakPoints: [{ ...BELT, consequence: 'leak' }], services: [done(3600)], policy: policy('condition') }).rule,
    ).toMatch(/^school_(looks|beyond_a_look)$/));
});

test('of two with the same verdict the one further beyond its limit comes first; without limits the likelier', () => {
  const ranks = (limit: number, scales: readonly number[]): number[] =>
    scales.map(
      (to) =>
        outlook(
          input({
            weakPoints: [{ ...BELT, causes: [[{ clock: 'distance', from: to / 2, to }]] }],
            policy: { ...input().policy, limits: each(limit) },
            services: renewed,
          }),
        ).rows.map(({ rank, chance, verdict }) => {
          // Half at the limit, towards a whole far beyond it; a tenth of the chance where there is none.
          const pressing = limit === Infinity ? chance / 10 : chance / (chance + limit);
          const place = VERDICTS.indexOf(verdict);
          expect(rank).toBeCloseTo(place + 0.99 * (1 - pressing), 12);
          return rank;
        })[0]!,
    );
  for (const limit of [0.05, Infinity]) {
    const [soon, late] = ranks(limit, [150_000, 170_000]);
    expect(soon).toBeLessThan(late!);
  }
});

test('what is open is said so, what is on record is not', () => {
  const open = row({ policy: { ...input().policy, limits: each(0.99) } });
  expect(open.wouldChange).toBe('A record of when it was last renewed.');
  for (const certainty of ['done', 'not_done'] as const)
    expect(
      row({ services: [done(100, { certainty })], policy: { ...input().policy, limits: each(0.99) } }).wouldChange,
    ).not.toBe(open.wouldChange);
});

test('what does not apply is listed with what it is and why, and judged nowhere', () => {
  const other: WeakPointFact = { ...BELT, id: 'o', key: 'o', appliesTo: { variants: ['long'] } };
  const facts = { ...input().facts, variants: [{ key: 'short', name: 'Short', weight: 1, howToTell: null }] };
  const asked = input({ weakPoints: [other], facts });
  const { rows, excluded } = outlook(asked);
  expect(rows).toEqual([]);
  expect(excluded[0]!.weakPoint).toEqual({
    id: 'o',
    key: 'o',
    title: BELT.title,
    component: BELT.component,
    group: 'timing',
  });
  expect(judgeVehicle(asked).rows).toEqual([]);
  expect(outlook(asked).drawing).toBeNull();
});

describe('nobody can show that it was renewed', () => {
  const proof: OutlookInput['policy'] = { ...input().policy, proofFor: ['engine'] };
  /** Far beyond its window’s beginning, so that no look of eight in ten would settle it. */
  const old = usagePath([{ day: TODAY, km: 200_000 }], TODAY - 3650, 41);
  const first = [done(0, { certainty: 'not_done', day: null })];
  test('the chance if it is the first one stands beside the weighed one, and is what a known original has', () => {
    const open = row({ policy: proof });
    expect(open.ifFirst).toBeCloseTo(row({ services: first }).chance, 12);
    expect(open.ifFirst).toBeGreaterThan(open.chance);
    expect(row({ policy: { ...proof, proofFor: [] } }).ifFirst).toBeCloseTo(open.ifFirst!, 12);
    for (const services of [first, renewed, [done(900, { certainty: 'believed' })]])
      expect(row({ policy: proof, services }).ifFirst).toBeNull();
  });
  test('of another engine it is the chance of the part that this engine was built with', () => {
    const engine = { path: old, fittedDay: TODAY - 500, assumed: true };
    const asked = { policy: proof, path: old, services: [done(600)], engine };
    expect(row(asked).ifFirst).toBe(row({ ...asked, services: [], engine: null }).ifFirst);
    expect(row(asked).ifFirst).toBeGreaterThan(row(asked).chance * 1.01);
  });

  test('its customary interval has passed: it is renewed, by the day its chance is spent if it is the first', () => {
    const open = row({ policy: proof, path: old });
    expect(open.rule).toBe('no_proof_customary');
    expect(open.due!.day).toBeLessThan(TODAY + 365);
    expect(row({ policy: proof, path: old, services: [done(0, { certainty: 'unknown', day: null })] }).rule).toBe(
      open.rule,
    );
    expect(row({ policy: proof, path: old, services: renewed }).rule).not.toMatch(/^no_proof/);
  });
  test('it passes on the very day of the custom', () => {
    const aged = (days: number) =>
      row({
        policy: proof,
        path: usagePath([{ day: TODAY, km: 200_000 }], TODAY - days, 41),
        weakPoints: [
          { ...BELT, statements: [{ ...BELT.statements[0]!, interval: BELT.statements[0]!.interval.slice(1) }] },
        ],
      }).rule;
    expect([aged(2922), aged(2921)]).toEqual(['no_proof_customary', 'no_proof_listen']);
  });
  test('what is found worn is as pressing as what it is, not as if nobody knew', () => {
    const worn = { findings: [found(3, 'worn')] };
    const rank = (policy: OutlookInput['policy']) => judgeVehicle(input({ ...worn, policy })).rows[0]!.rank;
    expect(rank(proof)).toBe(rank({ ...proof, proofFor: [] }));
  });
  test('is due, and as pressing, as if it were the first one', () => {
    const used = usagePath([{ day: TODAY, km: 150_000 }], TODAY - 3650, 41);
    const open = row({ policy: proof, path: used });
    expect(open.rule).toBe('no_proof_customary');
    expect(open.due).toMatchObject({ day: TODAY });
    const q = open.ifFirst!;
    expect(open.rank).toBeCloseTo(VERDICTS.indexOf('renew') + 0.99 * (1 - q / (q + open.limit)), 12);
  });
  test('nobody renews it by interval: it is looked at; where it cannot be, renewed', () => {
    const none = { ...BELT, statements: [] };
    expect(row({ policy: proof, path: old, weakPoints: [none] }).rule).toBe('no_proof_listen');
    expect(row({ policy: proof, path: old, weakPoints: [{ ...none, look: null }] }).rule).toBe('no_proof');
  });
  test('past its custom a look clears it only where it finds nine in ten and leaves it under its limit', () => {
    const seeing = (detection: number) => [{ ...BELT, look: { ...BELT.look!, detection } }];
    expect(row({ policy: proof, path: old, weakPoints: seeing(0.99) }).rule).toBe('no_proof_look');
    expect(row({ policy: proof, path: old, weakPoints: seeing(0.9) }).rule).toBe('no_proof_customary');
    const loose = { ...proof, limits: { ...proof.limits, engine: 0.2 } };
    expect(row({ policy: loose, path: old, weakPoints: seeing(0.9) }).rule).toBe('no_proof_look');
    expect(row({ policy: loose, path: old, weakPoints: seeing(0.89) }).rule).toBe('no_proof_customary');
  });
  test('of what wears, never better than weighed, and worse with every year', () => {
    const chances = [100_000, 160_000, 220_000, 300_000].map((km) => {
      const worn = usagePath([{ day: TODAY, km }], TODAY - 3650, 41);
      const { chance, ifFirst } = row({ path: worn, policy: proof });
      expect(ifFirst).toBeGreaterThanOrEqual(chance);
      return ifFirst!;
    });
    expect(chances).toEqual([...chances].sort((a, b) => a - b));
  });
});

describe('overdue by the book', () => {
  test('the strictest interval that is not doubted, since when and by how much, whatever the school', () => {
    // 2922 days of the book's have passed on a belt ten years old; 120,000 km come only today.
    expect(row().overdue).toMatchObject({ authority: 'Book', asks: 'renew', days: 3650 - 2922, countedFrom: 'new' });
    expect(row().overdue!.since.day).toBe(TODAY - 3650 + 2922);
    expect(row().overdue!.km).toBeCloseTo(120_000 - (120_000 * 2922) / 3650, 6);
    expect(row({ services: [done(3000)] }).overdue).toMatchObject({ days: 78, countedFrom: 'known' });
    // What is only believed is counted from the day that is believed.
    expect(row({ services: [done(3000, { certainty: 'believed' })] }).overdue).toMatchObject({
      days: 78,
      countedFrom: 'believed',
    });
    expect(row({ services: [done(2922)] }).overdue).toBeNull();
  });
  test('a regional edition speaks of its own region alone', () => {
    const weakPoints = [{ ...BELT, statements: [{ ...BELT.statements[0]!, region: 'hot and dusty' }] }];
    const sold = (market: string | null) => row({ weakPoints, facts: { ...input().facts, market } }).overdue;
    expect(sold(null)).toBeNull();
    expect(sold('hot and dusty')).not.toBeNull();
    expect(row({ facts: { ...input().facts, market: 'hot and dusty' } }).overdue).not.toBeNull();
  });
  test('who is doubted calls nobody in', () => {
    const [book, shed] = BELT.statements;
    const weakPoints = [{ ...BELT, statements: [{ ...book!, doubted: true }, shed!] }];
    expect(row({ weakPoints }).overdue).toBeNull();
  });
  test('an interval without exception asks for the renewal before the custom; a look, or a doubted one, does not', () => {
    const said = BELT.statements[0]!;
    const years = (days: number, more: object = {}) => ({
      ...said,
      interval: [{ clock: 'age' as const, from: days, to: days }],
      ...more,
    });
    const rule = (more: object) =>
      row({
        weakPoints: [{ ...BELT, statements: [years(900, more), years(4000), years(5000)] }],
        services: renewed,
        policy: { ...input().policy, limits: each(0.9) },
      }).rule;
    expect(rule({ always: true })).toBe('customary');
    expect(rule({})).not.toBe('customary');
    expect(rule({ always: true, asks: 'look' })).not.toBe('customary');
    expect(rule({ always: true, doubted: true })).not.toBe('customary');
    expect(rule({ always: true, strength: 'hearsay' })).not.toBe('customary');
  });
  test('an interval that asks for a look is answered by a look, not by a renewal alone', () => {
    const checks: WeakPointFact = {
      ...BELT,
      statements: [{ ...BELT.statements[0]!, asks: 'look', interval: [{ clock: 'age', from: 700, to: 700 }] }],
    };
    const book = { ...input().policy, schools: everywhere('book'), limits: each(0.9) };
    const asked = (findings: readonly FindingFact[]) =>
      row({ weakPoints: [checks], services: renewed, findings, policy: book });
    expect(asked([]).overdue).toMatchObject({ asks: 'look', days: 800 });
    const open = (findings: readonly FindingFact[]) => row({ weakPoints: [checks], findings }).overdue!.countedFrom;
    expect([open([]), open([found(900, 'sound')])]).toEqual(['new', 'known']);
    // A renewal that is asked for is answered by no look.
    expect(row({ findings: [found(900, 'sound')] }).overdue).toMatchObject({ asks: 'renew', countedFrom: 'new' });
    expect(asked([])).toMatchObject({ rule: 'school_looks', verdict: 'look' });
    // Where nobody told how to look, nobody can be asked for it.
    expect(row({ weakPoints: [{ ...checks, look: null }], services: renewed, policy: book }).verdict).toBe('run_on');
    const looked = asked([found(0, 'sound')]);
    expect(looked.overdue).toBeNull();
    expect(looked.verdict).not.toBe('look');
    expect(looked.due!.day).toBe(TODAY + 700);
  });
});

test('what nobody renews before it fails: the one it was built with, watched, and no school renews it', () => {
  const rings: WeakPointFact = {
    ...BELT,
    look: null,
    watch: { task: 'Check the oil level', every: [] },
    statements: [],
  };
  const answer = row({ weakPoints: [rings], policy: { ...input().policy, proofFor: ['engine'] } });
  expect(answer).toMatchObject({ verdict: 'watch', rule: 'watched', due: null, ifFirst: null });
  expect(answer.originalChance).toBeCloseTo(1, 12);
  expect(answer.chance).toBeCloseTo(row({ services: [done(0, { certainty: 'not_done', day: null })] }).chance, 12);
  const cost = answer.schools.find(({ school }) => school === 'cost')!;
  expect(cost).toMatchObject({ due: null, because: 'run_to_failure' });
  const early = answer.schools.find(({ school }) => school === 'early')!;
  expect(early).toEqual({ school: 'early', due: null, because: 'nobody_renews', asks: 'renew', everyDays: null });
  // Found worn it is still watched, and has no day, also where the book that is followed names an interval.
  const told: WeakPointFact = { ...rings, look: BELT.look, statements: BELT.statements };
  const byBook = { ...input().policy, schools: everywhere('book') };
  expect(row({ weakPoints: [told], findings: [found(3, 'worn')], policy: byBook })).toMatchObject({
    verdict: 'watch',
    due: null,
  });
});

describe('a fault that has faded', () => {
  const faded = (changes: Partial<WeakPointFact>): OutlookRow =>
    row({
      weakPoints: [{ ...FAULT, share: 0.1, retiredByRevision: null, statements: [], ...changes }],
      path: usagePath([{ day: TODAY, km: 320_000 }], TODAY - 5000, 41),
      services: [neverRenewed('belt', null)],
    });
  const look = { ...BELT.look!, how: 'Pressure decay, cold.' };
  test('names the one check that rules it out, where it is grave', () => {
    expect(faded({ look })).toMatchObject({
      rule: 'would_have_shown',
      wouldChange: 'To rule it out: Pressure decay, cold.',
    });
    expect(faded({ look, consequence: 'leak', safety: true }).wouldChange).toMatch(/^To rule it out/);
  });
  test('where it is not grave, or cannot be looked at, says what would bring it back', () => {
    expect(faded({ look, consequence: 'leak' }).wouldChange).toBe(
      'A renewal with the unrevised part, or first signs of it.',
    );
    expect(faded({ look: null }).wouldChange).toBe('A renewal with the unrevised part, or first signs of it.');
  });
});

describe('the cause of a complaint', () => {
  const REPORT = { words: 'Rattles', day: TODAY - 10, stop: null, drive: null, forbids: [] };
  const suspected = (share: number, more: Partial<OutlookInput> = {}): OutlookRow =>
    row({ services: renewed, reports: [REPORT], suspects: new Map([['belt', share]]), ...more });
  const bare = row({ services: renewed });
  test('carries its share as a chance of being in there now, says so, and is decided by it today', () => {
    const { chance, already, reason, verdict, due } = suspected(0.62);
    expect(chance).toBeCloseTo(1 - (1 - bare.chance) * (1 - 0.62), 9);
    expect(already).toBeCloseTo(0.62, 9);
    expect(reason).toContain('A complaint is open: 62 % that this is its cause.');
    expect(bare.reason).not.toContain('complaint');
    expect([bare.verdict, verdict]).toEqual(['run_on', 'hold']);
    expect(due!.day).toBe(TODAY);
  });
  test('is not suspected once it is renewed: on the day of the report or after it, and on record', () => {
    expect(suspected(0.62, { services: [done(5)] }).already).toBe(0);
    expect(suspected(0.62, { services: [done(10)] }).already).toBe(0);
    expect(suspected(0.62, { services: [done(11)] }).already).toBeCloseTo(0.62, 9);
    expect(suspected(0.62, { services: [done(5, { certainty: 'believed' })] }).already).toBeCloseTo(0.62, 9);
  });
  test('another weak point is no suspect of it', () =>
    expect(suspected(0.62, { suspects: new Map([['pump', 0.62]]) }).chance).toBe(bare.chance));
});
