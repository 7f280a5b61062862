import { PLAN_MONTH_DAYS } from './item-costs.ts';
import { besideWork } from './beside.ts';
import { preparePlan } from './proposal.ts';
import { wears, terms, life, item, ground, changed } from './testing.ts';

describe('while you are in there', () => {
  test('the pump behind the same cover adds its own minutes, and pays; the new seal does not', () => {
    const beside = besideWork(preparePlan(ground(), terms), ['belt'], 0);
    const of = (key: string) => beside.find((one) => one.key === key)!;
    expect(of('pump')).toMatchObject({ minutes: 30, alone: 90, labourSaved: 50 + 1.5 * 60 });
    expect(of('pump').gain).toBeGreaterThan(0);
    expect(of('seal')).toMatchObject({ minutes: 25, alone: 25, labourSaved: 50, ownMonth: null });
    expect(of('seal').gain).toBeLessThan(0);
    // The new one has no month of its own: until the end of all thirty-six.
    const until = 36 * PLAN_MONTH_DAYS;
    expect(of('seal').failsBefore! / ((10 + until) / 40_000) ** 3).toBeCloseTo(1, 1);
    expect(beside.map(({ key }) => key)).toEqual(['pump', 'seal']);
  });

  test('its own best month, the chance that it fails before, and what it gains are those of its costs', () => {
    const worn = wears('pump', { ...life, age: 2600 });
    const items = [
      ground().items[2]!,
      item('pump', {
        operations: ['pump'],
        aloneMinutes: 90,
        money: { kind: 'renew', forecast: worn, parts: 90, failure: 900, canLeave: false },
      }),
      ground().items[0]!,
    ];
    const prepared = preparePlan({ ...ground(), items }, terms);
    const beside = besideWork(prepared, ['belt', 'unheard-of'], 4);
    // Best gain first, whatever their order was.
    expect(beside.map(({ key }) => key)).toEqual(['pump', 'seal']);
    const { byMonth, later } = prepared.costs.get('pump')!;
    const own = byMonth.map((cost) => cost + 50 + 1.5 * 90);
    const best = Math.min(...own);
    expect(best).toBeLessThan(later);
    expect(beside[0]!.ownMonth).toBe(own.indexOf(best));
    expect(beside[0]!.gain).toBeCloseTo(best - (byMonth[4]! + 1.5 * 30), 9);
    const hazard = (age: number): number => (age / life.scale) ** life.shape;
    const days = own.indexOf(best) * PLAN_MONTH_DAYS;
    expect(beside[0]!.failsBefore).toBeCloseTo(-Math.expm1(hazard(2600) - hazard(2600 + days)), 3);
  });

  test('after the vehicle is given away there is nothing to say', () => {
    expect(besideWork(preparePlan(ground(), { ...terms, keptMonths: 8 }), ['belt'], 7)).toHaveLength(2);
    expect(besideWork(preparePlan(ground(), { ...terms, keptMonths: 8 }), ['belt'], 8)).toEqual([]);
  });

  test('a pump that is quite new is left', () => {
    const young = wears('pump', { ...life, age: 180 });
    const with_ = changed(ground(), 'pump', {
      money: { kind: 'renew', forecast: young, parts: 90, failure: 900, canLeave: false },
    });
    expect(besideWork(preparePlan(with_, terms), ['belt'], 0).find(({ key }) => key === 'pump')!.gain).toBeLessThan(0);
  });
});
