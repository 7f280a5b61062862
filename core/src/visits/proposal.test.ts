import fc from 'fast-check';
import { PLAN_MONTH_DAYS } from './item-costs.ts';
import { preparePlan, proposeVisits, type ProposalItem } from './proposal.ts';
import type { ProposalTerms } from './terms.ts';
import { NOW, left, terms, item, belt, ground, changed, forecastOf, wears } from './testing.ts';

const NO_PINS = new Map<string, number>();

const proposed = (of = ground(), how = terms, pins: ReadonlyMap<string, number> = NO_PINS) =>
  proposeVisits(preparePlan(of, how), { pins, left: left(4000) });

describe('what is proposed', () => {
  test('what shares a cover goes together, what is due by its day, what is new is left; no other way costs less', () => {
    const proposal = proposed()!;
    const of = (key: string): number | undefined => proposal.visits.find(({ keys }) => keys.includes(key))?.month;
    expect(of('belt')).toBe(of('pump'));
    expect(of('belt')).toBeDefined();
    expect(of('oil')).toBeLessThanOrEqual(3);
    expect(proposal.visits.find(({ keys }) => keys.includes('oil'))!.day).toBeLessThanOrEqual(NOW + 100);
    expect(proposal.later).toEqual(['seal']);
    expect(proposal.money.total).toBeLessThanOrEqual(
      Math.min(proposal.apart.total, proposal.allNow.total, proposal.wait.total) + 1e-6,
    );
    for (const { total, labour, parts, failures, wear } of [proposal.money, proposal.apart, proposal.wait])
      expect(labour + parts + failures + wear).toBeCloseTo(total, 9);
    expect(proposal.proven).toBe(true);
    expect(proposal.above).toBe(0);
  });

  test('overdue things come first, by tomorrow; a pin is kept, and costs what it costs', () => {
    const overdue = changed(ground(), 'oil', { dueDay: NOW - 40 });
    const best = proposed(overdue)!;
    const pinned = proposed(overdue, terms, new Map([['seal', 7]]))!;
    expect(pinned.visits[0]).toMatchObject({ month: 0, day: NOW + 1 });
    expect(pinned.visits[0]!.keys).toContain('oil');
    expect(pinned.visits.find(({ keys }) => keys.includes('seal'))!.month).toBe(7);
    expect(pinned.money.total).toBeGreaterThanOrEqual(best.money.total);
  });

  test('before the owner can bring it nothing is proposed; what is due by then comes in on that day', () => {
    const { visits } = proposed(changed(ground(), 'oil', { dueDay: NOW - 40 }), { ...terms, notBeforeDay: NOW + 70 })!;
    expect(Math.min(...visits.map(({ month }) => month))).toBe(2);
    expect(visits[0]!.keys).toContain('oil');
    expect(visits[0]!.day).toBe(NOW + 70);
  });

  test('each way costs what its visits, parts and failures come to', () => {
    const { allNow, wait, apart, money } = proposed()!;
    // All of it in one visit: the cover once.
    expect(allNow.labour).toBeCloseTo(50 + 1.5 * (60 + 40 + 30 + 25 + 35), 9);
    expect(allNow.parts).toBeCloseTo(120 + 90 + 30, 6);
    expect(allNow.failures).toBeCloseTo(0, 9);
    // Only the oil is due: the rest waits, and is renewed beyond the months at its own labour.
    expect(wait.labour).toBeCloseTo(50 + 1.5 * 35, 9);
    expect(wait.failures).toBeGreaterThan(allNow.failures);
    // Each by itself pays for its own way in.
    expect((apart.labour - 1.5 * (100 + 90 + 35)) / 50).toBeCloseTo(3, 9);
    expect(money.labour).toBeLessThan(apart.labour);
  });

  test('apart is what each costs at its own best date, were it the only one', () => {
    const limited = [
      ground(),
      changed(ground(), 'belt', { notBeforeDay: NOW + 400 }),
      changed(ground(), 'belt', { dueDay: NOW + 200 }),
      changed(ground(), 'pump', { dueDay: NOW + 700, notBeforeDay: NOW + 300 }),
      changed(ground(), 'seal', { dueDay: NOW + 1 }),
    ];
    for (const of of limited)
      for (const pins of [NO_PINS, new Map([['seal', 7]]), new Map([['oil', 36]])]) {
        const alone = of.items.map((one) => proposed({ ...of, items: [one] }, terms, pins)!);
        expect(proposed(of, terms, pins)!.apart.total).toBeCloseTo(
          alone.reduce((sum, { money }) => sum + money.total, 0),
          6,
        );
      }
  });

  test('a visit stands in the middle of its month, or by the first day that one of its things leaves', () => {
    const { visits } = proposed(ground(), terms, new Map([['seal', 7]]))!;
    expect(visits.map(({ month }) => month)).toEqual([...visits.map(({ month }) => month)].sort((a, b) => a - b));
    const seventh = visits.find(({ month }) => month === 7)!;
    expect(seventh.day).toBe(NOW + Math.round(7.5 * PLAN_MONTH_DAYS));
    // In their order, whichever was put where; what is put off past its day stands in the middle of its month.
    const moved = proposed(
      ground(),
      terms,
      new Map([
        ['belt', 20],
        ['pump', 14],
        ['oil', 9],
      ]),
    )!.visits;
    expect(moved.map(({ month }) => month)).toEqual([9, 14, 20]);
    expect(moved[0]!.day).toBe(NOW + Math.round(9.5 * PLAN_MONTH_DAYS));
    const due = proposed(changed(ground(), 'oil', { dueDay: NOW + 5 }))!;
    expect(due.visits[0]).toMatchObject({ month: 0, day: NOW + 5 });
  });

  test('what falls due after it is given away is not waited for; what is too early for a task is not proposed', () => {
    expect(proposed(ground(), { ...terms, keptMonths: 2 })!.visits).toEqual([]);
    const late = changed(ground(), 'oil', { dueDay: NOW + 300, notBeforeDay: NOW + 250 });
    const oil = proposed(late)!.visits.find(({ keys }) => keys.includes('oil'))!;
    expect(oil.month).toBeGreaterThanOrEqual(8);
    expect(oil.month).toBeLessThanOrEqual(9);
  });

  test('by hand it may be put where it would never be proposed: into the heat, or beyond its day', () => {
    const hot = changed(ground(), 'seal', { isCooling: true });
    const how = { ...terms, coolingBeforeSummer: true };
    for (const month of [5, 6, 7, 8, 9, 10])
      expect(proposed(hot, how, new Map([['seal', month]]))!.visits.some(({ month: at }) => at === month)).toBe(true);
    expect(
      proposed(ground(), terms, new Map([['oil', 9]]))!.visits.find(({ keys }) => keys.includes('oil'))!.month,
    ).toBe(9);
  });

  test('limits are kept to: minutes and money of a visit, money of a year', () => {
    const all = { ...ground(), items: ground().items.map((one) => ({ ...one, dueDay: NOW + 300 })) };
    const months = (how: Partial<ProposalTerms>): number[][] =>
      proposed(all, { ...terms, ...how })!.visits.map(({ keys }) => keys.length) as never;
    expect(months({})).toEqual([4]);
    expect(months({ capacity: 140 }).length).toBeGreaterThan(1);
    expect(months({ budget: 420 }).length).toBeGreaterThan(1);
    // Everything is due within the first year, which may not cost so little.
    expect(proposed(all, { ...terms, yearBudget: 300 })).toBeNull();
  });

  test('what is put off by hand is left, also where it is due', () => {
    expect(proposed(ground(), terms, new Map([['oil', 36]]))!.later).toContain('oil');
  });

  test('what is due and fits on no visit has no proposal', () => {
    expect(proposed(ground(), { ...terms, capacity: 20 })).toBeNull();
  });

  test('what goes with a job stands on its visit, unless somebody puts it elsewhere', () => {
    const together = changed(ground(), 'seal', { goesWith: 'belt' });
    const on = (pins: ReadonlyMap<string, number>, key: string): number | undefined =>
      proposeVisits(preparePlan(together, terms), { pins, left: left(400) })!.visits.find(({ keys }) =>
        keys.includes(key),
      )?.month;
    for (const month of [0, 5, 17]) {
      const pins = new Map([['belt', month]]);
      expect([on(pins, 'belt'), on(pins, 'seal')]).toEqual([month, month]);
    }
    const apart = new Map([
      ['belt', 4],
      ['seal', 9],
    ]);
    expect([on(apart, 'belt'), on(apart, 'seal')]).toEqual([4, 9]);
    const free = proposed(together)!;
    const visit = free.visits.find(({ keys }) => keys.includes('belt'));
    expect(visit === undefined ? free.later : visit.keys).toContain('seal');
  });

  test('what is only put on a visit by hand is left, counts what fails of it, and stands where somebody puts it', () => {
    const byHand = changed(ground(), 'belt', { isOnlyByHand: true });
    const without = { ...byHand, items: byHand.items.filter(({ key }) => key !== 'belt') };
    const left_ = proposed(byHand)!;
    expect(left_.later).toContain('belt');
    expect(left_.money.failures).toBeGreaterThan(proposed(without)!.money.failures);
    const put = proposeVisits(preparePlan(byHand, terms), { pins: new Map([['belt', 2]]), left: left(400) })!;
    expect(put.visits.find(({ keys }) => keys.includes('belt'))!.month).toBe(2);
  });

  test('while something is dragged nothing is said of how good it is', () => {
    const prepared = preparePlan(ground(), terms);
    const quick = proposeVisits(prepared, { pins: new Map([['belt', 3]]), left: left(200), isQuick: true })!;
    expect(quick).toMatchObject({ above: null, proven: false, sets: [] });
    const sets = [{ month: 3, items: [0, 1] }];
    const helped = proposeVisits(prepared, { pins: NO_PINS, left: left(200), isQuick: true, sets })!;
    expect(helped.sets).toEqual(sets);
    expect(helped.money.total).toBeCloseTo(proposed()!.money.total, 6);
    expect(quick.visits.find(({ keys }) => keys.includes('belt'))!.month).toBe(3);
  });

  test('who gives it away in eight months renews nothing whose saving comes later', () => {
    const proposal = proposed(ground(), { ...terms, keptMonths: 8 })!;
    expect(proposal.later).toEqual(expect.arrayContaining(['belt', 'pump', 'seal']));
    expect(proposal.visits.flatMap(({ keys }) => keys)).toEqual(['oil']);
  });

  test('a look is proposed where it pays, before the renewal that it may save, and nowhere else', () => {
    const look = (before: string, failure: number): ProposalItem =>
      item(`look:${before}`, {
        ownMinutes: 5,
        aloneMinutes: 5,
        before,
        money: {
          kind: 'look',
          forecast: belt,
          detection: 0.9,
          warningDays: 200,
          failure,
          renewal: 240,
          isAlone: false,
        },
      });
    const late = new Map([['belt', 20]]);
    const with_ = (failure: number) =>
      proposed({ ...ground(), items: [...ground().items, look('belt', failure)] }, terms, late)!;
    const worth = with_(20_000);
    const monthOf = (key: string): number => worth.visits.find(({ keys }) => keys.includes(key))!.month;
    expect(monthOf('look:belt')).toBeLessThan(monthOf('belt'));
    expect(worth.money.total).toBeLessThan(proposed(ground(), terms, late)!.money.total);
    expect(with_(1).visits.flatMap(({ keys }) => keys)).not.toContain('look:belt');
    expect(with_(1).later).not.toContain('look:belt');
  });

  test('a look that is asked for is work like any other; of one whose chances nobody reckons only the work counts', () => {
    const asked = (forecast: typeof belt | null): ProposalItem =>
      item('look:seal', {
        ownMinutes: 20,
        aloneMinutes: 20,
        dueDay: NOW + 60,
        money: { kind: 'look', forecast, detection: 0.9, warningDays: 200, failure: 900, renewal: 240, isAlone: true },
      });
    const only = (one: ProposalItem) => proposed({ ...ground(), items: [one] })!;
    const bare = only(asked(null));
    expect(bare.visits).toEqual([
      { month: expect.any(Number) as number, day: expect.any(Number) as number, keys: ['look:seal'] },
    ]);
    expect(bare.visits[0]!.day).toBeLessThanOrEqual(NOW + 60);
    expect(bare.money).toMatchObject({ labour: 50 + 1.5 * 20, parts: 0, failures: 0 });
    const seen = only(asked(belt));
    expect(seen.visits[0]!.keys).toEqual(['look:seal']);
    expect(seen.money.failures).toBeGreaterThan(0);
  });

  describe('where it says that no other plan costs less', () => {
    const aDay = fc.option(fc.integer({ min: 0, max: 1000 }), { nil: null });
    const aGround = fc
      .record({
        days: fc.array(aDay, { minLength: 4, maxLength: 4 }),
        first: fc.option(fc.integer({ min: 0, max: 400 }), { nil: null }),
        pumpGoesWith: fc.constantFrom(null, 'belt', 'seal'),
        sealGoesWith: fc.constantFrom(null, 'belt'),
        isByHand: fc.boolean(),
        canLeave: fc.boolean(),
        ages: fc.array(fc.integer({ min: 0, max: 6000 }), { minLength: 3, maxLength: 3 }),
        capacity: fc.constantFrom(null, 200),
      })
      .map(({ days, first, pumpGoesWith, sealGoesWith, isByHand, canLeave, ages, capacity }) => {
        const parts = ['belt', 'pump', 'seal'].map((key, i) => wears(key, { scale: 4000, shape: 3, age: ages[i]! }));
        const items = ground().items.map((one, i): ProposalItem => {
          const { money } = one;
          return {
            ...one,
            dueDay: days[i] === null ? null : NOW + days[i]!,
            notBeforeDay: one.key === 'oil' && first !== null ? NOW + first : null,
            goesWith: one.key === 'pump' ? pumpGoesWith : one.key === 'seal' ? sealGoesWith : null,
            isOnlyByHand: one.key === 'seal' && sealGoesWith === null && isByHand,
            money: money.kind === 'renew' ? { ...money, forecast: parts[i]!, canLeave } : money,
          };
        });
        return { of: { ...ground(), forecast: forecastOf(...parts), items }, how: { ...terms, capacity } };
      });
    test('none of the ways beside it is cheaper, and without limits each on its own date never is', () =>
      fc.assert(
        fc.property(aGround, ({ of, how }) => {
          const proposal = proposed(of, how);
          if (proposal === null) return;
          const { isLeast, proven, money, apart, allNow, wait } = proposal;
          const least = Math.min(apart.total, allNow.total, wait.total);
          if (isLeast) expect(money.total).toBeLessThanOrEqual(least + 1e-6);
          if (isLeast) expect(proven).toBe(true);
          // What only a limit makes dearer is said otherwise.
          if (proven && money.total <= least) expect(isLeast).toBe(true);
          if (proven && how.capacity === null)
            expect(money.total).toBeLessThanOrEqual(Math.min(apart.total, wait.total) + 1e-6);
        }),
        { numRuns: 300 },
      ));
    test('a limit that makes the plan dearer than another way takes the word away', () => {
      const all = { ...ground(), items: ground().items.map((one) => ({ ...one, dueDay: NOW + 100 })) };
      const limited = proposed(all, { ...terms, capacity: 100 })!;
      expect(limited.money.total).toBeGreaterThan(limited.wait.total);
      expect([limited.proven, limited.isLeast]).toEqual([true, false]);
      expect(proposed(all)!).toMatchObject({ proven: true, isLeast: true });
    });
  });

  test('no pins make it cheaper than the plan without any', () => {
    const best = proposed()!.money.total;
    fc.assert(
      fc.property(
        fc.dictionary(fc.constantFrom('belt', 'pump', 'seal'), fc.integer({ min: 0, max: 35 }), { maxKeys: 3 }),
        (pins) => {
          const plan = proposed(ground(), terms, new Map(Object.entries(pins)))!;
          expect(plan.money.total).toBeGreaterThanOrEqual(best - 1e-6);
          for (const [key, month] of Object.entries(pins))
            expect(plan.visits.find(({ keys }) => keys.includes(key))!.month).toBe(month);
        },
      ),
      { numRuns: 25 },
    );
  });
});
