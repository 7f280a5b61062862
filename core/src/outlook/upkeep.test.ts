import fc from 'fast-check';
import { TODAY, BELT, input, done } from './belt.ts';
import { explain } from './explain.ts';
import { outlook } from './outlook.ts';
import type { StatementFact } from '../schools/statements.ts';
import type { Span } from '../shorthand/window.ts';
import { dayFromIso } from '../units/day.ts';
import { ageClock, distanceClock } from '../usage/clock.ts';
import { hastenedClock, hastenedClocks, neglectedRun } from '../upkeep/hastened.ts';
import { dayInSeason, SEASONS } from '../upkeep/season.ts';
import { neglectsOf, upkeepRows, type UpkeepFact, type UpkeepQuestion, type UpkeepTaskFact } from '../upkeep/tasks.ts';

const says = (authority: string, interval: readonly Span[], changes: Partial<StatementFact> = {}): StatementFact => ({
  authority,
  kind: 'book',
  edition: null,
  region: null,
  words: '',
  asks: 'renew',
  interval,
  ...changes,
});
const km = (from: number): Span => ({ clock: 'distance', from, to: from });
const days = (from: number): Span => ({ clock: 'age', from, to: from });
const OIL: UpkeepTaskFact = {
  id: 'oil',
  key: 'oil',
  kind: 'fluid',
  title: 'Engine oil',
  how: '',
  minutes: 30,
  ownerCan: false,
  season: null,
  place: null,
  spot: null,
  cautions: [],
  appliesTo: {},
  statements: [says('Book', [km(20_000), days(730)]), says('Shed', [km(10_000), days(365)], { kind: 'specialist' })],
  protects: [{ weakPointId: 'belt', factor: 2 }],
};
const NOW = 2000;
/** New on day 0, 40 km a day. */
const question = (changes: Partial<UpkeepQuestion> = {}): UpkeepQuestion => ({
  tasks: [OIL],
  done: [],
  facts: { variants: [], model: null, market: null, producedDay: null, producedSlackDays: 0, features: {} },
  clocks: { distance: distanceClock({ knots: [{ day: 0, km: 0 }], rateKmPerDay: 40 }), age: ageClock },
  startDay: 0,
  fittedDay: null,
  today: NOW,
  serviceDays: 365,
  kmAtDay: (day) => 40 * day,
  ...changes,
});
const on = (...at: number[]): UpkeepFact[] => at.map((day) => ({ taskId: 'oil', certainty: 'done', day }));
const row = (changes: Partial<UpkeepQuestion> = {}) => upkeepRows(question(changes))[0]!;

describe('how a task stands', () => {
  test('by the strictest who is not doubted, whichever clock first, and by whom', () =>
    expect(row({ done: on(1900) })).toMatchObject({
      standing: 'due',
      due: { day: 2150, km: 86_000 },
      by: 'Shed',
      lastDay: 1900,
    }));
  test('overdue from the day after it fell due, due up to the next service, later beyond it', () => {
    expect(row({ done: on(1750) }).standing).toBe('due');
    expect(row({ done: on(1749) })).toMatchObject({ standing: 'overdue', due: { day: 1999 } });
    expect(row({ done: on(2000), serviceDays: 250 }).standing).toBe('due');
    expect(row({ done: on(2000), serviceDays: 249 }).standing).toBe('later');
  });
  test('with nothing recorded the first interval runs from new; once it has passed nobody knows', () => {
    expect(row({ today: 250 })).toMatchObject({ standing: 'due', due: { day: 250 }, lastDay: null });
    expect(row({ today: 251 })).toMatchObject({ standing: 'unknown', due: null, by: 'Shed', neglected: [] });
  });
  test('never done is overdue since the first time it was due', () =>
    expect(row({ done: [{ taskId: 'oil', certainty: 'never', day: 1990 }] })).toMatchObject({
      standing: 'overdue',
      due: { day: 250 },
      lastDay: null,
    }));
  test('a doubted interval, and one told for elsewhere, call nobody in', () => {
    const statements = [says('Book', [days(100)], { doubted: true }), says('South', [days(100)], { region: 'south' })];
    expect(row({ tasks: [{ ...OIL, statements }], done: on(1000) })).toMatchObject({
      standing: 'no_interval',
      due: null,
    });
    const south = { ...question().facts, market: 'south' };
    expect(row({ tasks: [{ ...OIL, statements }], done: on(1000), facts: south })).toMatchObject({ by: 'South' });
  });
  test('a task that nobody gives an interval for has none; one told for nowhere in particular speaks everywhere', () => {
    expect(row({ tasks: [{ ...OIL, statements: [says('Book', [])] }], done: on(1900) }).standing).toBe('no_interval');
    expect(row({ done: on(1900), facts: { ...question().facts, market: 'north' } }).by).toBe('Shed');
  });
  test('the strictest and the last time count, wherever they stand in the list', () => {
    const statements = [...OIL.statements].reverse();
    expect(row({ tasks: [{ ...OIL, statements }], done: on(1900, 500) })).toMatchObject({
      by: 'Shed',
      due: { day: 2150 },
      lastDay: 1900,
    });
  });
  test('what stands still never comes to its distance', () =>
    expect(
      row({
        tasks: [{ ...OIL, statements: [says('Book', [km(10_000)])] }],
        done: on(1999),
        clocks: { distance: distanceClock({ knots: [{ day: NOW, km: 0 }], rateKmPerDay: 0 }) },
      }),
    ).toMatchObject({ standing: 'later', due: null, by: 'Book' }));
  test('records before the engine was put in are about another one, and those to come have not happened', () => {
    expect(row({ done: on(1900), fittedDay: 1901 }).lastDay).toBeNull();
    expect(row({ done: on(1900), fittedDay: 1900 }).lastDay).toBe(1900);
    expect(row({ done: on(1900, 2001) }).lastDay).toBe(1900);
    expect(row({ done: [{ taskId: 'other', certainty: 'done', day: 1900 }] }).lastDay).toBeNull();
  });
  test('what does not apply is not asked for', () =>
    expect(
      upkeepRows(
        question({
          tasks: [{ ...OIL, appliesTo: { producedToDay: 100 } }],
          facts: { ...question().facts, producedDay: 500 },
        }),
      ),
    ).toEqual([]));
  test('overdue, due, unknown, later; what only the owner does and nobody wrote down comes last', () => {
    const task = (id: string, every: number, more: Partial<UpkeepTaskFact> = {}): UpkeepTaskFact => ({
      ...OIL,
      id,
      title: id,
      statements: [says('Book', [days(every)])],
      ...more,
    });
    const all = upkeepRows(
      question({
        tasks: [
          task('owner', 100, { ownerCan: true }),
          task('unknown', 100),
          task('later', 900),
          task('oh, another', 100),
          task('owner too', 50, { ownerCan: true }),
          task('soon', 200),
          task('sooner', 150),
          task('overdue', 50),
        ],
        done: ['later', 'soon', 'sooner', 'overdue', 'owner too'].map((taskId) => ({
          taskId,
          certainty: 'done',
          day: 1900,
        })),
      }),
    );
    expect(all.map(({ task: { id } }) => id)).toEqual([
      'overdue',
      'owner too',
      'sooner',
      'soon',
      'oh, another',
      'unknown',
      'later',
      'owner',
    ]);
  });
});

describe('neglect', () => {
  test('counts only beyond the most patient of those not doubted, and a tenth', () => {
    // The book's 20,000 km are 500 days; a tenth more is let pass.
    expect(row({ done: on(1000, 1550) }).neglected).toEqual([]);
    expect(row({ done: on(1000, 1560) }).neglected).toEqual([[1550, 1560]]);
  });
  test('reaches what the task protects and nothing else, with its factor', () => {
    const late = row({ done: on(1000, 1560) });
    expect([...neglectsOf([late])]).toEqual([['belt', [{ overdue: [[1550, 1560]], factor: 2 }]]]);
    expect(neglectsOf([row({ done: on(1000, 1500) })]).size).toBe(0);
  });
  test('two tasks that protect the same both count', () => {
    const late = row({ done: on(1000, 1560) });
    expect(neglectsOf([late, late]).get('belt')).toHaveLength(2);
  });
});

describe('a clock that neglect has carried on', () => {
  const clock = distanceClock({ knots: [{ day: 0, km: 0 }], rateKmPerDay: 40 });
  test('without neglect it is the clock itself', () => {
    expect(hastenedClock(clock, [])).toBe(clock);
    expect(hastenedClocks({ distance: clock }, [])).toEqual({ distance: clock });
  });
  test('shows what was run, and what was run too fast', () => {
    const worn = hastenedClock(clock, [{ overdue: [[100, 200]], factor: 1.5 }]);
    expect([50, 100, 150, 200, 300].map((day) => worn.at(day))).toEqual([2000, 4000, 7000, 10_000, 14_000]);
    expect(worn.dayOf(7000)).toBe(150);
    expect(worn.kind).toBe('distance');
  });
  test('its day is where it shows the value, whatever was neglected; it never runs slower', () => {
    const stretch = fc
      .tuple(fc.integer({ min: 0, max: 900 }), fc.integer({ min: 1, max: 300 }))
      .map(([from, long]) => [from, from + long] as const);
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            overdue: fc.array(stretch, { maxLength: 3 }),
            factor: fc.double({ min: 1, max: 3, noNaN: true }),
          }),
          { maxLength: 3 },
        ),
        fc.integer({ min: 0, max: 1500 }),
        (neglects, day) => {
          const worn = hastenedClock(clock, neglects);
          expect(worn.dayOf(worn.at(day))).toBeCloseTo(day, 6);
          expect(neglectedRun(clock, 0, day, neglects)).toBeGreaterThanOrEqual(clock.at(day) - 1e-6);
        },
      ),
    );
  });
  test('every clock of a vehicle is carried on, and none is made up', () =>
    expect(Object.keys(hastenedClocks({ age: ageClock }, [{ overdue: [[0, 1]], factor: 2 }]))).toEqual(['age']));
});

describe('seasons', () => {
  const iso = (text: string): number => dayFromIso(text)!;
  test.each([
    ['2027-05-10', 'spring', '2026-11-10', '2027-05-10'],
    ['2027-02-28', 'spring', '2026-11-10', '2027-03-01'],
    ['2027-03-01', 'spring', '2026-11-10', '2027-03-01'],
    ['2027-05-31', 'spring', '2026-11-10', '2027-05-31'],
    ['2027-06-01', 'spring', '2026-11-10', '2027-05-31'],
    ['2027-08-20', 'spring', '2027-05-31', '2027-05-31'],
    ['2027-08-20', 'spring', '2027-06-01', '2028-03-01'],
    ['2027-10-10', 'autumn', '2026-11-10', '2027-10-10'],
    ['2027-12-01', 'autumn', '2026-12-01', '2027-11-30'],
    ['2027-07-31', 'summer', '2026-12-01', '2027-07-31'],
    ['2027-01-15', 'winter', '2026-01-01', '2027-01-15'],
    ['2027-03-15', 'winter', '2026-01-01', '2027-02-28'],
    ['2028-03-15', 'winter', '2026-01-01', '2028-02-29'],
  ] as const)('due on %s in %s, not before %s: %s', (day, season, notBefore, wanted) =>
    expect(dayInSeason(iso(day), season, iso(notBefore))).toBe(iso(wanted)),
  );
  test('is always a day of that season', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 15_000, max: 25_000 }),
        fc.constantFrom(...SEASONS),
        fc.integer({ min: 0, max: 400 }),
        (day, season, back) => {
          const found = dayInSeason(day, season, day - back);
          const month = new Date(found * 86_400_000).getUTCMonth() + 1;
          expect(Math.floor((month % 12) / 3)).toBe((SEASONS.indexOf(season) + 1) % 4);
        },
      ),
    ));
  test('a core cleaned in May is due next spring, nothing before', () => {
    const cleaned = iso('2026-05-12');
    const task: UpkeepTaskFact = { ...OIL, season: 'spring', statements: [says('Book', [days(365)])] };
    const core = row({ tasks: [task], done: on(cleaned), today: iso('2026-11-26'), startDay: iso('2020-01-01') });
    expect(core).toMatchObject({ standing: 'due', due: { day: iso('2027-05-12') } });
  });
  test('in a season that has come early it is done half an interval after the last time, not sooner', () => {
    const of = (every: number, cleaned: string) =>
      row({
        tasks: [{ ...OIL, season: 'spring', statements: [says('Book', [days(every)])] }],
        done: on(iso(cleaned)),
        today: iso('2027-06-01'),
        startDay: iso('2020-01-01'),
        serviceDays: 1,
      }).due!.day;
    // Due in August; half a year after August spring has not gone yet.
    expect(of(365, '2026-08-20')).toBe(iso('2027-05-31'));
    // Due at the end of August; fifty days after May it has.
    expect(of(100, '2027-05-20')).toBe(iso('2028-03-01'));
  });
});

describe('what every mechanic knows', () => {
  const task: UpkeepTaskFact = {
    ...OIL,
    statements: [says('Book', [days(365)])],
    protects: [{ weakPointId: 'belt', factor: 1.3 }],
  };
  const chance = (upkeep: readonly UpkeepFact[]): number =>
    outlook(input({ tasks: [task], upkeep, services: [done(3000)] })).rows[0]!.chance;
  const at = (...ago: number[]): UpkeepFact[] => on(...ago.map((days) => TODAY - days));
  const onTime = Array.from({ length: 9 }, (_, i) => 2950 - i * 360);
  test('two services missed years ago, on time since: a little older inside, not punished for ever', () => {
    const missed = onTime.filter((_, i) => i !== 3 && i !== 4);
    const [kept, twice, always] = [chance(at(...onTime)), chance(at(...missed)), chance(at(2950))];
    expect(twice).toBeGreaterThan(kept);
    expect(twice).toBeLessThan(1.6 * kept);
    expect(always).toBeGreaterThan(twice);
  });
  test('nothing recorded holds nothing against it', () => expect(chance([])).toBe(chance(at(...onTime))));
  test('neglect before the part went in says nothing of it', () => {
    const renewed = (upkeep: readonly UpkeepFact[]): number =>
      outlook(input({ tasks: [task], upkeep, services: [done(300)] })).rows[0]!.chance;
    expect(renewed(at(3000, 310))).toBeCloseTo(renewed(at(320, 310)), 12);
  });
  test('mounts looked at today at 3,000 hours: again in two years at the latest, and never a renewal', () => {
    const mounts: UpkeepTaskFact = {
      ...OIL,
      kind: 'look',
      statements: [says('Book', [{ clock: 'hours', from: 3000, to: 3000 }, days(730)])],
    };
    const { upkeep, rows } = outlook(input({ tasks: [mounts], upkeep: at(0), weakPoints: [BELT] }));
    expect(upkeep[0]).toMatchObject({ standing: 'later', due: { day: TODAY + 730 } });
    expect(rows).toHaveLength(1);
  });
});

test('why a chance is what it is names the upkeep that was neglected, and what it would be if it had been done in time', () => {
  const task: UpkeepTaskFact = { ...OIL, statements: [says('Book', [days(365)])] };
  const late = input({ tasks: [task], upkeep: on(TODAY - 2950, TODAY - 10), services: [done(3000)] });
  const inTime = outlook({ ...late, upkeep: [] }).rows[0]!.chance;
  const why = explain(late, 'belt')!;
  expect(why.steps.find(({ ground }) => ground === 'upkeep')).toEqual({ ground: 'upkeep', otherwise: inTime });
  expect(inTime).toBeLessThan(why.chance);
  expect(explain({ ...late, upkeep: [] }, 'belt')!.steps.map(({ ground }) => ground)).not.toContain('upkeep');
});
