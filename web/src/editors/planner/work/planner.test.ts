import { USUAL_PLANNING, type Settings, type Visit } from '@crosspeen/contract';
import { dayFromIso, type Proposal } from '@crosspeen/core';
import { acceptWords, freshVisits, type FreshVisit } from './accepting.ts';
import { monthsByKey } from './board-model.ts';
import { keysOnVisits, monthWithin, termsOf, type PlannerAsked } from './ground.ts';
import { keepingOf, OTHER_PER_YEAR, withAndWithout } from './keeping-model.ts';
import { middleOf, readPins, writePins } from './pins.ts';
import { planningWords } from './planning-words.ts';

const NOW = dayFromIso('2026-11-27')!;

describe('pins in the address', () => {
  test('are read back as they were written, next week as well', () => {
    const pins = new Map([
      ['point:a', 3],
      ['task:b:2', 36],
    ]);
    const text = writePins(pins, NOW, 36);
    expect(readPins(text, NOW, 36)).toEqual(pins);
    expect(readPins(text, NOW + 7, 36)).toEqual(pins);
    expect(text).toContain('task:b:2@later');
  });
  test('what has no sense or has passed is left out', () => {
    expect(readPins(null, NOW, 36).size).toBe(0);
    expect(readPins('point:a@soon,@2027-01-01,point:b@2020-01-01,point:c@2099-01-01,,point:d', NOW, 36).size).toBe(0);
  });
  test('a month of the planner has its middle', () => expect(middleOf(NOW, 0) - NOW).toBe(15));
});

const visit = (id: string, day: string, more: object = {}): Visit =>
  ({ id, day, state: 'planned', version: 1, jobs: [], tasks: [], ...more }) as unknown as Visit;

test('what stands on visits has a key for each time it stands', () => {
  const keys = keysOnVisits([
    visit('second', '2027-05-01', { tasks: [{ taskId: 'oil' }] }),
    visit('first', '2027-01-01', {
      jobs: [
        { weakPointId: 'a', action: 'renew' },
        { weakPointId: 'b', action: 'look' },
      ],
      tasks: [{ taskId: 'oil' }],
    }),
  ]);
  expect(keys.get('first')).toEqual(['point:a', 'look:b', 'task:oil']);
  expect(keys.get('second')).toEqual(['task:oil:2']);
});

test('a day lies in a month within those that are planned', () => {
  expect(monthWithin(NOW, '2026-11-01')).toBe(0);
  expect(monthWithin(NOW, '2027-01-01')).toBe(1);
  expect(monthWithin(NOW, '2040-01-01')).toBe(35);
});

const asked = {
  ground: {
    forecast: { nowDay: NOW },
    items: [
      { key: 'point:a', before: null },
      { key: 'look:a', before: 'point:a' },
      { key: 'task:oil', before: null },
    ],
  },
  standing: new Map([['point:a', 1]]),
} as unknown as PlannerAsked;
const proposal = {
  visits: [
    { month: 1, day: NOW + 40, keys: ['point:a', 'task:oil'] },
    { month: 9, day: NOW + 290, keys: ['look:a'] },
  ],
} as unknown as Proposal;

describe('what is accepted', () => {
  test('is what does not stand on a visit yet; what shares a month with one joins it', () => {
    const standing = visit('v', '2027-01-05');
    expect(freshVisits(asked, proposal, [standing])).toMatchObject([
      { month: 1, keys: ['task:oil'], all: ['point:a', 'task:oil'], joins: { id: 'v' } },
      { month: 9, keys: ['look:a'], joins: null },
    ]);
  });
  test('is said in words', () => {
    const [own, joins] = [{ joins: null } as FreshVisit, { joins: visit('v', '2027-01-05') } as FreshVisit];
    expect(acceptWords([own])).toBe('Plan this visit');
    expect(acceptWords([own, own])).toBe('Plan these 2 visits');
    expect(acceptWords([own, own, joins])).toBe('Plan these 2 visits, add to the planned visit');
    expect(acceptWords([joins])).toBe('Add to the planned visit');
    expect(acceptWords([joins, joins])).toBe('Add to 2 planned visits');
  });
});

test('months of a proposal are those of what is planned first, then of looks that were added', () => {
  expect([...monthsByKey(asked, { months: [4, 5, 6] })]).toEqual([
    ['point:a', 4],
    ['task:oil', 5],
    ['look:a', 6],
  ]);
});

describe('what is planned by', () => {
  const settings = { labourRateMinor: 9600, currency: 'EUR' } as Settings;
  const terms = (planning: object) =>
    termsOf(settings, { ...USUAL_PLANNING, ...planning }, { nowDay: NOW, rateKmPerDay: 40, months: 36 });
  test('how long it is kept counts where that ends within the months', () => {
    expect(terms({ keepUntil: '2027-07-27' }).keptMonths).toBeCloseTo(242 / 30.4375, 6);
    expect(terms({ keepUntil: '2036-07-27' }).keptMonths).toBeNull();
    expect(terms({}).keptMonths).toBeNull();
  });
  test('a trip counts its own way in; an inspection what is due soon after it', () => {
    const day = dayFromIso('2027-07-03')!;
    expect(terms({ trip: { day: '2027-07-03', km: 2400 } }).events).toEqual([
      { day, dueBy: day + 60, onlyInspected: false },
    ]);
    expect(terms({ inspection: '2027-07-03' }).events).toEqual([{ day, dueBy: day + 91, onlyInspected: true }]);
  });
  test('limits are passed on', () => {
    expect(terms({ visitMinutes: 240, visitBudgetMinor: 50_000, yearBudgetMinor: 90_000 })).toMatchObject({
      capacity: 240,
      budget: 50_000,
      yearBudget: 90_000,
      labourPerMinute: 160,
    });
  });
  test('and said in a sentence', () => {
    expect(planningWords(null, settings, 'km')).toBe('');
    expect(
      planningWords(
        { ...USUAL_PLANNING, keepUntil: '2027-07-27', visitMinutes: 240, trip: { day: '2027-07-03', km: 2400 } },
        settings,
        'km',
      ),
    ).toMatch(/kept until 27 Jul 2027; at most 4 h a visit; cooling before the summer; .*3 Jul 2027, 2,400\skm\.$/);
  });
});

describe('keep it or let it go', () => {
  const year = { visits: 100, failures: 50, failuresLow: 0, failuresHigh: 90, total: 150 };
  test('what another costs is taken where nobody says', () => {
    expect(keepingOf([year], USUAL_PLANNING).letGo).toBeNull();
    expect(keepingOf([{ ...year, total: OTHER_PER_YEAR + 1 }], USUAL_PLANNING).letGo).toBe(0);
    expect(keepingOf([year], { ...USUAL_PLANNING, otherPerYearMinor: 120 }).letGo).toBe(0);
  });
  test('with and without a thing, over all years', () => {
    expect(
      withAndWithout({
        years: [year, year],
        without: [
          { key: 'point:a', years: [year, { ...year, total: 900 }] },
          { key: 'point:b', years: null },
        ],
      }),
    ).toEqual([
      { key: 'point:a', with: 300, without: 1050 },
      { key: 'point:b', with: 300, without: null },
    ]);
    expect(withAndWithout({ years: null, without: [] })).toEqual([]);
  });
});
