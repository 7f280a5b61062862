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
