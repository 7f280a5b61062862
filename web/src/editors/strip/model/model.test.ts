import type { AnswerRow } from '@crosspeen/contract';
import { dayFromIso } from '@crosspeen/core';
import fc from 'fast-check';
import { LANE, layLanes, postFigures, type Drawing } from './lanes.ts';
import { dayOfX, distanceTicks, niceStep, rangeOf, xOfDay, yearTicks } from './scale.ts';

const figure = (value: number): string => value.toLocaleString('en-GB');
const NOW = dayFromIso('2026-11-24')!;
const EDGES = [NOW - 800, NOW - 400, NOW, NOW + 500, NOW + 1000, NOW + 1500];
const row = (key: string, group: AnswerRow['group'], more: Partial<AnswerRow> = {}): AnswerRow =>
  ({
    weakPointId: key,
    key,
    group,
    componentKey: key,
    title: key,
    looks: [],
    authorities: [],
    ...more,
  }) as unknown as AnswerRow;
/** All lanes are drawn alike; what is ahead of them fails at the same pace. */
const drawn = (...keys: string[]): Drawing => ({
  edges: EDGES,
  ribbons: keys.map((key) => ({
    weakPointId: key as AnswerRow['weakPointId'],
    chance: [null, 0.01, 0.02, 0.3, 0.1],
    mass: [0, 0, 0.02, 0.04, 0.01],
  })),
  forecast: {
    nowDay: NOW,
    serviceDays: 365,
    ahead: [0, 500, 1000, 1500],
    items: keys.map((key) => ({
      weakPointId: key as AnswerRow['weakPointId'],
      chance: [0.02, 0.3, 0.1, 0.1],
      failed: [0, 0.02, 0.06, 0.07],
      renewed: [0, 0, 0.01, 0.02],
    })),
  },
});

describe('scale', () => {
  test('now stands where past and future meet, the future as long as asked', () => {
    const range = rangeOf(NOW, NOW - 4000, 4);
    expect(range.to - NOW).toBeCloseTo(1461, 6);
    expect(xOfDay(range, 1000, NOW)).toBeCloseTo(400, 6);
  });
  test('a young vehicle shows no more past than it has', () => expect(rangeOf(NOW, NOW - 200, 4).from).toBe(NOW - 200));
  test('pixels and days lead back to each other', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1200 }),
        fc.constantFrom(2 as const, 4 as const, 8 as const),
        (x, years) => {
          const range = rangeOf(NOW, NOW - 3000, years);
          expect(xOfDay(range, 1200, dayOfX(range, 1200, x))).toBeCloseTo(x, 6);
        },
      ),
    );
  });
  test.each([
    [3, 5],
    [7_000, 10_000],
    [1, 1],
    [12_000, 20_000],
    [0.3, 0.5],
  ])('at least %d in round steps is %d', (least, step) => expect(niceStep(least)).toBeCloseTo(step, 9));
  test('distance ticks lie where the vehicle is expected, in its unit, and not on top of each other', () => {
    const path = {
      knots: [
        { day: NOW - 1000, km: 0 },
        { day: NOW, km: 50_000 },
      ],
      rateKmPerDay: 40,
    };
    const range = rangeOf(NOW, NOW - 1000, 4);
    const ticks = distanceTicks(path, range, 900, { unit: 'km', figure });
    const tick = ticks.find(({ label }) => label === '80,000')!;
    expect(tick.x).toBeCloseTo(xOfDay(range, 900, NOW + 750), 6);
    ticks.slice(1).forEach((entry, i) => expect(entry.x - ticks[i]!.x).toBeGreaterThan(50));
    expect(distanceTicks({ knots: [{ day: 0, km: 10 }], rateKmPerDay: 0 }, range, 900, { unit: 'mi', figure })).toEqual(
      [],
    );
  });
  test('year ticks stand on the first of January', () => {
    const range = rangeOf(NOW, NOW - 1000, 2);
    expect(yearTicks(range, 900).find(({ label }) => label === '2028')!.x).toBeCloseTo(
      xOfDay(range, 900, dayFromIso('2028-01-01')!),
      6,
    );
  });
});

describe('lanes', () => {
  const range = rangeOf(NOW, NOW - 3000, 4);
  test('groups keep their order, lanes the order they come in, and none overlap', () => {
    const { groups, height } = layLanes(
      [row('pump', 'cooling'), row('belt', 'timing'), row('idler', 'timing')],
      { ...drawn('pump', 'belt', 'idler'), notches: [] },
      NOW,
      { range, width: 900 },
    );
    expect(groups.map(({ group, lanes }) => [group, lanes.map(({ row: { key } }) => key)])).toEqual([
      ['timing', ['belt', 'idler']],
      ['cooling', ['pump']],
    ]);
    const tops = groups.flatMap(({ lanes }) => lanes.map(({ y }) => y));
    tops.slice(1).forEach((y, i) => expect(y - tops[i]!).toBeGreaterThanOrEqual(LANE.height));
    expect(height).toBe(2 * LANE.groupHeight + 3 * LANE.height);
  });
  test('the ribbon is thin in the past and widest where most failures are expected', () => {
    const [lane] = layLanes([row('belt', 'timing')], { ...drawn('belt'), notches: [] }, NOW, { range, width: 900 })
      .groups[0]!.lanes;
    expect(lane!.pieces.map(({ past }) => past)).toEqual([true, false, false, false]);
    expect(lane!.pieces[0]!.height).toBe(LANE.thinnest);
    expect(lane!.pieces[2]!.height).toBe(LANE.thickest);
    expect(lane!.pieces[1]!.height).toBe(LANE.thinnest + (LANE.thickest - LANE.thinnest) / 2);
    expect(lane!.pieces.at(-1)!.x + lane!.pieces.at(-1)!.width).toBeCloseTo(900, 6);
  });
  test('a notch of its own component, open when only believed, at the edge when further back', () => {
    const notches = [
      { componentKey: 'belt', day: NOW - 100, certainty: 'believed' as const },
      { componentKey: 'belt', day: 10, certainty: 'done' as const },
      { componentKey: 'pump', day: NOW - 50, certainty: 'done' as const },
    ];
    const [lane] = layLanes([row('belt', 'timing')], { ...drawn('belt'), notches }, NOW, { range, width: 900 })
      .groups[0]!.lanes;
    expect(lane!.notches.map(({ believed, before }) => [believed, before])).toEqual([
      [true, false],
      [false, true],
    ]);
  });
  test('what an authority says stands at its day; beyond the strip it stands at the edge and says so', () => {
    const said = (day: number | null) => ({
      due: day === null ? null : { day, km: 1 },
      kind: 'book',
      authority: 'Maker',
      words: 'Renew it.',
    });
    const [lane] = layLanes(
      [
        row('belt', 'timing', {
          authorities: [said(NOW + 100), said(range.from - 400), said(range.to + 900), said(null)] as never,
        }),
      ],
      { ...drawn('belt'), notches: [] },
      NOW,
      { range, width: 900 },
    ).groups[0]!.lanes;
    expect(lane!.ticks.map(({ beyond }) => beyond)).toEqual([null, 'before', 'after']);
    expect(lane!.ticks[0]!.x).toBeCloseTo(xOfDay(range, 900, NOW + 100), 9);
    expect(lane!.ticks.slice(1).map(({ x }) => x)).toEqual([6, 894]);
  });
  test('looks stand where they were made, those from before the strip begins are not drawn', () => {
    const [lane] = layLanes(
      [
        row('belt', 'timing', {
          looks: [
            { day: NOW - 30, result: 'worn' },
            { day: range.from - 1, result: 'sound' },
          ] as never,
        }),
      ],
      { ...drawn('belt'), notches: [] },
      NOW,
      { range, width: 900 },
    ).groups[0]!.lanes;
    expect(lane!.looks).toEqual([{ day: NOW - 30, result: 'worn', x: xOfDay(range, 900, NOW - 30) }]);
  });
  test('nothing of a ribbon lies outside the strip, whatever span is shown', () => {
    for (const years of [2, 4, 8] as const) {
      const shown = rangeOf(NOW, NOW - 3000, years);
      const [lane] = layLanes([row('belt', 'timing')], { ...drawn('belt'), notches: [] }, NOW, {
        range: shown,
        width: 700,
      }).groups[0]!.lanes;
      for (const { x, width } of lane!.pieces) expect(x >= -1e-9 && x + width <= 700 + 1e-9 && width > 0).toBe(true);
    }
  });
});

describe('figures of a visit', () => {
  const jobs = (...keys: string[]) => keys.map((weakPointId) => ({ weakPointId })) as never;

  test('a job whose weak point no longer applies costs its minutes and risks nothing', () => {
    expect(postFigures({ jobs: jobs('gone'), minutes: 45 }, drawn('belt').forecast, NOW + 900)).toEqual({
      chanceBefore: 0,
      minutes: 45,
    });
  });
  test('the longer it is put off, the likelier it is overtaken', () => {
    const chances = [0, 100, 300, 900, 1500].map(
      (days) => postFigures({ jobs: jobs('belt'), minutes: 60 }, drawn('belt').forecast, NOW + days).chanceBefore,
    );
    chances.slice(1).forEach((chance, i) => expect(chance).toBeGreaterThan(chances[i]!));
  });
  test('one of two independent jobs fails first with 1 - 0.98 * 0.98 after five hundred days', () => {
    const visit = { jobs: jobs('belt', 'pump'), minutes: 95 };
    expect(postFigures(visit, drawn('belt', 'pump').forecast, NOW + 500).chanceBefore).toBeCloseTo(1 - 0.98 ** 2, 12);
  });
});
