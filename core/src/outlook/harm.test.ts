import { ageClock } from '../usage/clock.ts';
import { BELT, done, input, TODAY } from './belt.ts';
import { harmedBy, harmsTo } from './harm.ts';
import { outlook } from './outlook.ts';
import type { FindingFact, OutlookInput, OutlookRow, WeakPointFact } from './types.ts';

/** A thermostat that takes the control unit along in one of seven within 200 days, and that unit. */
const STAT: WeakPointFact = {
  ...BELT,
  id: 'stat',
  key: 'stat',
  title: 'Thermostat sticks',
  componentKey: 'stat',
  consequence: 'damage',
  statements: [],
  damages: [{ weakPoint: 'unit', chance: 1 / 7, within: [{ clock: 'age', from: 200, to: 200 }] }],
};
const UNIT: WeakPointFact = {
  ...BELT,
  id: 'unit',
  key: 'unit',
  title: 'Control unit fails',
  componentKey: 'unit',
  consequence: 'damage',
  statements: [],
  causes: [[{ clock: 'distance', from: 900_000, to: 990_000 }]],
};
const found = (weakPointId: string, daysAgo: number, result: FindingFact['result']): FindingFact => ({
  weakPointId,
  day: TODAY - daysAgo,
  result,
  broughtIn: false,
  sinceDay: null,
});
const asked = (changes: Partial<OutlookInput> = {}): OutlookInput =>
  input({ weakPoints: [STAT, UNIT], services: [done(900, { componentKey: 'unit' })], ...changes });
const unit = (changes: Partial<OutlookInput>): OutlookRow =>
  outlook(asked(changes)).rows.find(({ weakPoint }) => weakPoint.id === 'unit')!;
const clocks = { age: ageClock };

test('the hazard comes to the chance that is told once its time has run, and evenly until then', () => {
  const harms = harmsTo(UNIT, asked({ findings: [found('stat', 50, 'failed')] }), clocks);
  expect(harms).toHaveLength(1);
  const by = (day: number): number => harmedBy(harms, -Infinity, day);
  expect(by(TODAY + 150)).toBeCloseTo(1 / 7, 12);
  expect(by(TODAY + 9999)).toBeCloseTo(1 / 7, 12);
  expect(by(TODAY + 50)).toBeCloseTo(1 - (6 / 7) ** 0.5, 12);
  expect(by(TODAY - 51)).toBe(0);
});

test('a repair of the neighbour ends it; what is only worn, another part, or a day to come does no harm', () => {
  const services = [done(25, { componentKey: 'stat' })];
  const harms = harmsTo(UNIT, asked({ findings: [found('stat', 50, 'failed')], services }), clocks);
  expect(harmedBy(harms, -Infinity, TODAY + 9999)).toBeCloseTo(1 - (6 / 7) ** (25 / 200), 12);
  for (const finding of [found('stat', 50, 'worn'), found('unit', 50, 'failed'), found('stat', -5, 'failed')])
    expect(harmsTo(UNIT, asked({ findings: [finding] }), clocks)).toEqual([]);
});

test('where nobody says how soon, it is half a year', () => {
  const weakPoints = [{ ...STAT, damages: [{ weakPoint: 'unit', chance: 0.5, within: [] }] }, UNIT];
  const [harm] = harmsTo(UNIT, asked({ weakPoints, findings: [found('stat', 10, 'failed')] }), clocks);
  expect(harm!.toDay - harm!.fromDay).toBeCloseTo(182.625, 6);
});

describe('the neighbour of a failed part', () => {
  const failed = [found('stat', 50, 'failed')];
  test('is likelier to fail, says why, and is looked at', () => {
    const before = unit({});
    const after = unit({ findings: failed });
    expect(before.chance).toBeLessThan(0.001);
    expect(after.chance).toBeCloseTo(before.chance + (1 - before.chance) / 7, 6);
    expect(after.already).toBeCloseTo(1 - (6 / 7) ** 0.25, 6);
    expect(after.reason).toContain('“Thermostat sticks” may have harmed it.');
    expect([before.verdict, after.verdict]).toEqual(['run_on', 'look']);
  });
  test('comes down again once the cause is repaired and a look finds it good', () => {
    const repaired = [done(900, { componentKey: 'unit' }), done(20, { componentKey: 'stat' })];
    expect(unit({ findings: failed, services: repaired }).chance).toBeGreaterThan(0.02);
    const good = unit({ findings: [...failed, found('unit', 10, 'sound')], services: repaired });
    expect(good.chance).toBeLessThan(0.001);
    expect(good.reason).not.toContain('harmed');
  });
  test('that has failed itself is a fact', () =>
    expect(unit({ findings: [...failed, found('unit', 1, 'failed')] }).reason).not.toContain('harmed'));
});

test('a complaint that must stop holds the vehicle; one with which it may be driven does not', () => {
  const report = {
    words: 'Spins fast',
    day: TODAY,
    stop: 'Do not crank.',
    drive: null,
    forbids: ['cranking' as const],
  };
  const may = { ...report, words: 'Whistles', stop: null };
  expect(outlook(asked({ reports: [may, report] })).holds).toEqual([report]);
  expect(outlook(asked()).holds).toEqual([]);
});

test('harm and what is reported stand in the lane and in what is planned by, as in the row', () => {
  const report = { words: 'Whistles', day: TODAY, stop: null, drive: null, forbids: [] };
  const weakPoints = [STAT, UNIT];
  const changes = { findings: [found('stat', 50, 'failed')], reports: [report], suspects: new Map([['unit', 0.2]]) };
  const drawn = outlook(asked({ weakPoints, ...changes }), { drawn: true });
  const row = drawn.rows.find(({ weakPoint }) => weakPoint.id === 'unit')!;
  const { items, ahead } = drawn.drawing!.forecast;
  const item = items.find(({ weakPointId }) => weakPointId === 'unit')!;
  expect(item.failed[0]).toBeCloseTo(row.already, 9);
  expect(item.chance[0]).toBeCloseTo(row.chance, 6);
  // 150 of its 200 days are left today; half a year on none are, and only what is reported remains.
  expect(item.failed[0]).toBeCloseTo(1 - 0.8 * (6 / 7) ** 0.25, 6);
  const later = ahead.findIndex((days) => days > 150);
  expect(item.failed[later]).toBeCloseTo(1 - 0.8 * (6 / 7), 3);
  expect(item.chance[later]).toBeCloseTo(0.2, 3);
  const lane = drawn.drawing!.ribbons.find(({ weakPointId }) => weakPointId === 'unit')!;
  expect(lane.chance).toContain(item.chance[0]);
});
