import fc from 'fast-check';
import { BAY_SIDES, ENGINE_SPOTS, engineMap, type EngineLayout } from './engine-map.ts';
import { makesSense, measuredAs, usedUp } from './measure.ts';

const across: EngineLayout = { shape: 'inline', cylinders: 4, timingEnd: 'right', intake: 'front' };

const layouts = fc
  .record({
    shape: fc.constantFrom('inline' as const, 'vee' as const, 'single' as const),
    cylinders: fc.integer({ min: 1, max: 8 }).map((half) => half * 2),
    timingEnd: fc.constantFrom(...BAY_SIDES),
    intake: fc.constantFrom(...BAY_SIDES),
  })
  .filter(({ shape, timingEnd, intake }) => {
    const beside = (side: string): boolean => side === 'left' || side === 'right';
    return shape === 'vee' || beside(timingEnd) !== beside(intake);
  });

test('everything lies in the bay, and the timing end on its side of the engine', () => {
  fc.assert(
    fc.property(layouts, (layout) => {
      const map = engineMap(layout);
      const points = [...ENGINE_SPOTS.map((spot) => map.spots[spot]), ...map.cylinders];
      for (const { x, y, z } of points) for (const at of [x, y, z]) expect(at >= 0 && at <= 1).toBe(true);
      for (const { from, to } of [map.block, map.pan, map.gearbox, ...map.heads]) {
        expect(from.x >= 0 && to.x <= 1 && from.y >= 0 && to.y <= 1).toBe(true);
        expect(from.x < to.x && from.y < to.y && from.z < to.z).toBe(true);
      }
      expect(map.cylinders).toHaveLength(layout.cylinders);
      const { timing_end: timing, gearbox_end: gearbox } = map.spots;
      const along = {
        left: gearbox.x - timing.x,
        right: timing.x - gearbox.x,
        front: gearbox.y - timing.y,
        rear: timing.y - gearbox.y,
      };
      expect(along[layout.timingEnd]).toBeGreaterThan(0.3);
    }),
  );
});

test('the exhaust lies opposite the intake; a V has its intake in the valley', () => {
  const map = engineMap(across);
  expect(map.spots.intake_side.y).toBeLessThan(map.block.from.y);
  expect(map.spots.exhaust_side.y).toBeGreaterThan(map.block.to.y);
  const vee = engineMap({ shape: 'vee', cylinders: 6, timingEnd: 'front', intake: 'rear' });
  expect(vee.heads).toHaveLength(2);
  expect(vee.spots.intake_side.x).toBeCloseTo(0.5, 12);
});

test('what hangs on an engine hangs together: its pan under it, its gearbox at the other end, the radiator in front', () => {
  fc.assert(
    fc.property(layouts, (layout) => {
      const { block, pan, gearbox, heads, radiator, cylinders, spots, across: lies } = engineMap(layout);
      for (const side of ['x', 'y'] as const) {
        expect(pan.from[side]).toBeGreaterThan(block.from[side]);
        expect(pan.to[side]).toBeLessThan(block.to[side]);
      }
      // The gearbox begins where the block ends, away from the timing end.
      const end = lies ? 'x' : 'y';
      const far = layout.timingEnd === 'right' || layout.timingEnd === 'rear' ? 'from' : 'to';
      const near = far === 'from' ? 'to' : 'from';
      expect(gearbox[near][end]).toBeCloseTo(block[far][end], 12);
      expect(gearbox.to[end] - gearbox.from[end]).toBeCloseTo(0.15, 12);
      expect(radiator.to.y).toBeLessThan(block.from.y);
      expect(radiator.from.x < spots.radiator.x && spots.radiator.x < radiator.to.x).toBe(true);
      expect(radiator.from.z < spots.radiator.z && spots.radiator.z < radiator.to.z).toBe(true);
      // Every cylinder lies in a head, no two at one place; the head's own spot on one too.
      const within = (point: { x: number; y: number }): boolean =>
        heads.some(({ from, to }) => point.x > from.x && point.x < to.x && point.y > from.y && point.y < to.y);
      for (const cylinder of [...cylinders, spots.head]) expect(within(cylinder)).toBe(true);
      expect(new Set(cylinders.map(({ x, y }) => `${x.toFixed(6)} ${y.toFixed(6)}`)).size).toBe(layout.cylinders);
      // What is looked at on the block stands on it, towards the gearbox.
      expect(spots.block.x > block.from.x && spots.block.x < block.to.x).toBe(true);
      expect(spots.block.y > block.from.y && spots.block.y < block.to.y).toBe(true);
    }),
  );
});

test('a V is wider than an inline engine and has two narrow heads, a single is half as long', () => {
  const size = ({ from, to }: { from: { x: number; y: number }; to: { x: number; y: number } }) => [
    to.x - from.x,
    to.y - from.y,
  ];
  const inline = engineMap(across);
  const vee = engineMap({ ...across, shape: 'vee', cylinders: 6 });
  const single = engineMap({ ...across, shape: 'single', cylinders: 1 });
  expect(size(vee.block)[0]).toBeCloseTo(size(inline.block)[0]!, 12);
  expect(size(vee.block)[1]! / size(inline.block)[1]!).toBeCloseTo(1.35, 12);
  expect(size(single.block)[0]! / size(inline.block)[0]!).toBeCloseTo(0.5, 12);
  expect(size(single.block)[1]).toBeCloseTo(size(inline.block)[1]!, 12);
  expect([inline.heads.length, vee.heads.length, single.heads.length]).toEqual([1, 2, 1]);
  const [one, other] = vee.heads;
  // They leave a valley between them, in which the intake lies, towards the gearbox.
  expect(one!.from.y > other!.to.y || other!.from.y > one!.to.y).toBe(true);
  expect(vee.spots.intake_side.y).toBeCloseTo(0.5, 12);
  expect(vee.spots.intake_side.x).toBeLessThan(0.5);
  expect(vee.spots.valley.x).toBeGreaterThan(0.5);
  expect(size(inline.heads[0]!)[1]! / size(inline.block)[1]!).toBeCloseTo(0.7, 12);
  expect(inline.spots.block.x).toBeLessThan(0.5);
  const lengthwise = engineMap({ ...across, timingEnd: 'front', intake: 'left' });
  expect(lengthwise.spots.intake_side.x).toBeLessThan(lengthwise.block.from.x);
  expect(lengthwise.spots.exhaust_side.x).toBeGreaterThan(lengthwise.block.to.x);
});

test('from the timing end the cylinders stand at equal distances, the outer ones half of that from the ends', () => {
  const { cylinders, block } = engineMap(across);
  const gap = (block.to.x - block.from.x) / 4;
  expect(cylinders.map(({ x }) => x)).toEqual(
    [0.5, 1.5, 2.5, 3.5].map((n) => expect.closeTo(block.to.x - n * gap, 12) as number),
  );
});

test('engines of sixteen cylinders have a picture, of one too, of seventeen none', () => {
  expect(engineMap({ ...across, cylinders: 16 }).cylinders).toHaveLength(16);
  expect(engineMap({ ...across, cylinders: 1 }).cylinders).toHaveLength(1);
  expect(engineMap({ ...across, cylinders: 3 }).cylinders).toHaveLength(3);
  expect(() => engineMap({ ...across, cylinders: 17 })).toThrow('from 1 to 16');
});

test.each([
  [{ ...across, intake: 'left' as const }, 'intake must lie beside the engine'],
  [{ ...across, cylinders: 0 }, 'cylinders must be a whole number'],
  [{ ...across, cylinders: 2.5 }, 'cylinders must be a whole number'],
  [{ ...across, shape: 'vee' as const, cylinders: 5 }, 'an even number'],
])('%j is refused by name', (layout, words) => {
  expect(() => engineMap(layout)).toThrow(words);
});

describe('a measurement', () => {
  const gap = { limit: 6, fresh: 12, worse: 'lower', sense: [0, 40] } as const;
  const offset = { limit: 2, fresh: 0, worse: 'higher', sense: [-10, 20] } as const;

  test('is worn at its limit and beyond it, whichever way it goes', () => {
    expect([7, 6.01, 6, 5].map((value) => measuredAs(gap, value))).toEqual(['sound', 'sound', 'worn', 'worn']);
    expect([1, 1.99, 2, 3].map((value) => measuredAs(offset, value))).toEqual(['sound', 'sound', 'worn', 'worn']);
  });

  test('outside of what a gauge reads makes no sense', () => {
    expect([-0.1, 0, 40, 40.1].map((value) => makesSense(gap, value))).toEqual([false, true, true, false]);
  });

  test('has used up its way from new to the limit', () => {
    expect(usedUp(gap, 12)).toBe(0);
    expect(usedUp(gap, 9)).toBe(0.5);
    expect(usedUp(gap, 4)).toBeCloseTo(4 / 3, 12);
    expect(usedUp(gap, 14)).toBe(0);
    expect(usedUp({ limit: 6 }, 4)).toBeNull();
  });
});
