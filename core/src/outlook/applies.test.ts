import { appliesHere } from './applies.ts';
import { BELT, input, TODAY } from './belt.ts';
import { judgeVehicle } from './outlook.ts';
import type { ServiceFact, WeakPointFact } from './types.ts';

const renewed = (revision: string | null, daysAgo = 400): ServiceFact => ({
  componentKey: BELT.componentKey,
  certainty: 'done',
  day: TODAY - daysAgo,
  grade: 'original',
  revision,
  source: 'own',
  cameOut: null,
});
/** How the revised part wears in its turn: it is in one variant from new, elsewhere only once it was put in. */
const worn = (variants?: readonly string[]): WeakPointFact => ({
  ...BELT,
  id: 'worn',
  retiredByRevision: null,
  appliesTo: { ...(variants ? { variants } : {}), revisionFitted: 'B' },
});
const variants = (...weights: readonly (readonly [string, number])[]) => ({
  facts: { ...input().facts, variants: weights.map(([key, weight]) => ({ key, name: key, howToTell: null, weight })) },
});

describe('what only a revision has', () => {
  test('applies once that revision was put in, by its last record or by who looked; not with an older part', () => {
    const known = (services: readonly ServiceFact[]) => appliesHere(worn(), { ...input(), services }, null).applies;
    expect([known([]), known([renewed(null)]), known([renewed('A')]), known([renewed('B')])]).toEqual([
      'no',
      'no',
      'no',
      'yes',
    ]);
    expect(known([renewed('B', 900), renewed('A', 400)])).toBe('no');
    const facts = { ...input().facts, fitted: { [BELT.componentKey]: 'B' } };
    expect(appliesHere(worn(), { ...input(), facts }, null).applies).toBe('yes');
  });
  test('what else it asks for still counts: the variant alone is settled by the revision', () => {
    const sold = { ...worn(), appliesTo: { ...worn().appliesTo, markets: ['cold'] } };
    const of = (market: string) =>
      appliesHere(sold, { ...input(), facts: { ...input().facts, market }, services: [renewed('B')] }, null).applies;
    expect([of('cold'), of('hot')]).toEqual(['yes', 'no']);
  });
  test('a renewal before another engine came is about another part', () => {
    const known = { ...input(), services: [renewed('B')] };
    expect(appliesHere(worn(), known, TODAY - 300)).toMatchObject({ applies: 'no' });
  });
  test('applies to the variants that were built with it, by how likely the vehicle is one', () => {
    const of = (...weights: readonly (readonly [string, number])[]) =>
      appliesHere(worn(['late']), { ...input(), ...variants(...weights) }, null);
    expect(of(['late', 1])).toMatchObject({ applies: 'yes' });
    expect(of(['early', 0.25], ['late', 0.75])).toMatchObject({ applies: 'maybe', weight: 0.75 });
    expect(of(['early', 1])).toEqual({
      applies: 'no',
      weight: 0,
      because: 'only where revision B of the part is fitted',
    });
  });
  test('the old fault is over and the new part wears: one row of the part asks for anything', () => {
    const weakPoints = [BELT, worn()];
    const rows = (services: readonly ServiceFact[]) => judgeVehicle({ ...input(), weakPoints, services }).rows;
    expect(rows([renewed('A')]).map(({ weakPoint }) => weakPoint.id)).toEqual([BELT.id]);
    const after = rows([renewed('B')]);
    expect(after.find(({ weakPoint }) => weakPoint.id === BELT.id)).toMatchObject({ verdict: 'behind_it' });
    expect(after.find(({ weakPoint }) => weakPoint.id === 'worn')!.chance).toBeGreaterThan(0);
  });
});
