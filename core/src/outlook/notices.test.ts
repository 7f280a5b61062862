import { BELT, input, TODAY } from './belt.ts';
import { askedByNotice, noticesInForce } from './notices.ts';
import type { NoticeFact } from './notice-types.ts';
import { judgeVehicle } from './outlook.ts';
import type { FindingFact, OutlookInput, ServiceFact, WeakPointFact } from './types.ts';

const note = (changes: Partial<NoticeFact> = {}): NoticeFact => ({
  id: 'n',
  number: '7',
  title: 'Pumps',
  authority: 'A note',
  issuedDay: TODAY - 100,
  asks: 'look',
  producedFromDay: null,
  producedToDay: null,
  models: [],
  cover: null,
  ...changes,
});
const PUMP: WeakPointFact = {
  ...BELT,
  consequence: 'leak',
  statements: [],
  causes: [[{ clock: 'distance', from: 400_000, to: 700_000 }]],
};
const renewed = (daysAgo: number, certainty: ServiceFact['certainty'] = 'done'): ServiceFact => ({
  componentKey: PUMP.componentKey,
  certainty,
  day: TODAY - daysAgo,
  grade: 'original',
  revision: null,
  source: 'own',
  cameOut: null,
});
const looked = (daysAgo: number): FindingFact => ({
  weakPointId: PUMP.id,
  day: TODAY - daysAgo,
  result: 'sound',
  broughtIn: false,
  sinceDay: null,
});
const ruleWith = (notices: readonly NoticeFact[], more: Partial<OutlookInput> = {}) => {
  const [row] = judgeVehicle({ ...input(), ...more, weakPoints: [{ ...PUMP, notices }] }).rows;
  return { rule: row!.rule, verdict: row!.verdict, due: row!.due?.day ?? null };
};

describe('what a notice asks for is a decision with its day', () => {
  test('an open one that asks for a look makes it a look, due now; without it nothing is asked', () => {
    expect(ruleWith([]).rule).toBe('below_limit');
    expect(ruleWith([note()])).toEqual({ rule: 'notice_looks', verdict: 'look', due: TODAY });
    expect(ruleWith([note({ asks: 'renew' })])).toEqual({ rule: 'notice_renews', verdict: 'renew', due: TODAY });
  });
  test('a look since its day answers it, a renewal too; earlier ones do not, and a renewal that is asked for needs one', () => {
    expect(ruleWith([note()], { findings: [looked(99)] }).rule).toBe('below_limit');
    expect(ruleWith([note()], { services: [renewed(99)] }).rule).toBe('below_limit');
    expect(ruleWith([note({ asks: 'renew' })], { findings: [looked(99)] }).rule).toBe('notice_renews');
    expect(ruleWith([note({ asks: 'renew' })], { services: [renewed(99)] }).rule).toBe('below_limit');
    expect(ruleWith([note({ asks: 'renew' })], { services: [renewed(101)] }).rule).toBe('notice_renews');
    expect(ruleWith([note({ asks: 'renew' })], { services: [renewed(99, 'believed')] }).rule).toBe('notice_renews');
  });
  test('a coverage asks while it pays', () => {
    const pays = (lastDay: number) => note({ cover: { days: null, km: null, lastDay, pays: 1 } });
    expect(ruleWith([pays(TODAY)]).rule).toBe('notice_looks');
    expect(ruleWith([pays(TODAY - 1)]).rule).toBe('below_limit');
  });
  test('it is about the models and the dates that it names', () => {
    const facts = { ...input().facts, model: 'Corrow', registeredDay: TODAY - 3650 };
    const asked = (changes: Partial<NoticeFact>) => ruleWith([note(changes)], { facts }).rule;
    expect(asked({ models: ['Corrow'] })).toBe('notice_looks');
    expect(asked({ models: ['Saltmere'] })).toBe('below_limit');
    expect(asked({ producedToDay: TODAY - 4000 })).toBe('below_limit');
    expect(asked({ producedToDay: TODAY - 3700 })).toBe('notice_looks');
  });
  test('of several a renewal comes first, with who asks', () => {
    const inForce = noticesInForce(
      { notices: [note(), note({ id: 'm', number: '4', asks: 'renew', issuedDay: TODAY - 900 })] },
      input(),
    );
    const part = { weakPoint: PUMP, services: [], fittedDay: null, nowDay: TODAY };
    expect(askedByNotice(inForce, part, [])).toEqual({ asks: 'renew', by: 'A note 4' });
    expect(askedByNotice([], part, [])).toBeNull();
    // A renewal before another engine was put in, or after today, is about another part.
    const renewedAt = (daysAgo: number, fittedDay: number | null) =>
      askedByNotice(inForce, { ...part, services: [renewed(daysAgo)], fittedDay }, []);
    expect(renewedAt(50, null)).toBeNull();
    expect(renewedAt(50, TODAY - 20)).not.toBeNull();
    expect(renewedAt(-5, null)).not.toBeNull();
  });
});
