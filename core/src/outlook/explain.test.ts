import { BELT, done, FAULT, input, TODAY } from './belt.ts';
import { explain, type WhyGround } from './explain.ts';
import { outlook } from './outlook.ts';
import type { FindingFact, OutlookInput, WeakPointFact } from './types.ts';

const found = (daysAgo: number, result: FindingFact['result'], weakPointId = 'belt'): FindingFact => ({
  weakPointId,
  day: TODAY - daysAgo,
  result,
  broughtIn: false,
  sinceDay: null,
});
const chance = (changes: Partial<OutlookInput>): number => outlook(input(changes)).rows[0]!.chance;
const steps = (changes: Partial<OutlookInput>): Partial<Record<WhyGround, number>> =>
  Object.fromEntries(explain(input(changes), 'belt')!.steps.map(({ ground, otherwise }) => [ground, otherwise]));

test('a part that wears by distance alone, never renewed as far as anybody knows: only that could be otherwise', () => {
  expect(steps({})).toEqual({ original: chance({ services: [done(0, { certainty: 'not_done', day: null })] }) });
});

test('of another engine only what was done since it was put in is its history', () => {
  const engine = { path: input().path, fittedDay: TODAY - 500, assumed: false };
  const said = steps({ engine, services: [done(501)] });
  expect(said).toEqual({ original: chance({ services: [done(0, { certainty: 'not_done', day: null })] }) });
  expect(said.original).toBeGreaterThan(chance({ engine, services: [done(501)] }) * 1.01);
  expect(Object.keys(steps({ engine, services: [done(500)] }))).toEqual(['history']);
});

test('a clock is taken away by never reaching its window; all else stays', () => {
  const both: WeakPointFact = {
    ...BELT,
    causes: [
      [
        { clock: 'distance', from: 110_000, to: 200_000 },
        { clock: 'age', from: 3000, to: 6000 },
      ],
    ],
  };
  const services = [done(3000)];
  const out = (kind: 'distance' | 'age'): WeakPointFact => ({
    ...both,
    causes: both.causes.map((cause) =>
      cause.map((span) => (span.clock === kind ? { ...span, from: span.from * 1e6, to: span.to * 1e6 } : span)),
    ),
  });
  const said = steps({ weakPoints: [both], services });
  expect(Object.keys(said)).toEqual(['clock:distance', 'clock:age', 'history']);
  expect(said['clock:distance']).toBe(chance({ weakPoints: [out('distance')], services }));
  expect(said['clock:age']).toBe(chance({ weakPoints: [out('age')], services }));
});

test('records and looks of this part are taken away, those of others stay', () => {
  const services = [done(1500), done(100, { componentKey: 'pump' })];
  const findings = [found(100, 'sound'), found(1600, 'failed'), found(50, 'worn', 'pump')];
  const said = steps({ weakPoints: [FAULT], services, findings });
  const without = (changes: Partial<OutlookInput>): number =>
    chance({ weakPoints: [FAULT], services, findings, ...changes });
  expect(said.history).toBe(without({ services: [services[1]!] }));
  expect(said.looks).toBe(without({ findings: [findings[1]!, findings[2]!] }));
  expect(said.failures).toBe(without({ findings: [findings[0]!, findings[2]!] }));
  expect(said.looks).not.toBe(said.failures);
  expect(said.original).toBeUndefined();
  const alone = (result: FindingFact['result']): WhyGround[] =>
    Object.keys(steps({ services, findings: [found(100, result)] })) as WhyGround[];
  expect(alone('worn')).toEqual(['history', 'looks']);
  expect(alone('failed')).toEqual(['history', 'failures']);
  expect(Object.keys(steps({ services, findings: [findings[2]!] }))).toEqual(['history']);
});

test('where only others were renewed it is the original that is taken away', () => {
  const said = Object.keys(steps({ services: [done(100, { componentKey: 'pump' })] }));
  expect(said).toContain('original');
  expect(said).not.toContain('history');
});

test('a fault: as if all of them had it, whatever experience says of how many do', () => {
  const services = [done(1500)];
  const all = (point: WeakPointFact): number => chance({ weakPoints: [point], services });
  const few = { ...FAULT, share: 0.3 };
  expect(steps({ weakPoints: [few], services }).share).toBe(all({ ...few, share: 1 }));
  const nodes = [{ scale: 1, shape: 2, share: 0.2, weight: 1 }];
  const experience = { nodes, parts: 4, failures: 1 };
  expect(steps({ weakPoints: [{ ...few, experience }], services }).share).toBe(
    all({ ...few, share: 1, experience: { ...experience, nodes: [{ ...nodes[0]!, share: 1 }] } }),
  );
  expect(steps({ weakPoints: [{ ...FAULT, share: 0.99 }], services }).share).toBeUndefined();
  expect(steps({ weakPoints: [{ ...BELT, share: 0.3 }], services }).share).toBeUndefined();
});

test('without experience it is judged as told, and the vehicle as none of those that were counted', () => {
  const nodes = [
    { scale: 0.4, shape: 2, share: 0.5, weight: 0.5 },
    { scale: 2, shape: 2, share: 0.5, weight: 0.5 },
  ];
  const changes = {
    weakPoints: [{ ...FAULT, experience: { nodes, parts: 4, failures: 1 } }],
    services: [done(1500)],
    counted: true,
  };
  expect(steps(changes).experience).toBe(chance({ ...changes, counted: false, weakPoints: [FAULT] }));
});

test('how it is used, by distance or by age alone', () => {
  const services = [done(1500)];
  expect(steps({ services, severity: 1.4 }).duty).toBe(chance({ services }));
  expect(steps({ services }).duty).toBeUndefined();
  const aged: WeakPointFact = { ...BELT, causes: [[{ clock: 'age', from: 3000, to: 6000 }]] };
  const stands = { services, weakPoints: [aged], duty: { standing: 'much' } } as const;
  expect(steps(stands).duty).toBe(chance({ services, weakPoints: [aged] }));
  expect(steps(stands).duty).toBeLessThan(chance(stands));
});

test('one that may not apply: as if it did', () => {
  const weakPoints = [{ ...BELT, appliesTo: { models: ['Corrow'] } }];
  const services = [done(1500)];
  expect(steps({ weakPoints, services }).applies).toBe(chance({ services }));
  expect(steps({ services }).applies).toBeUndefined();
});

test('what is not there, or does not apply, is not taken apart', () => {
  expect(explain(input(), 'pump')).toBeNull();
  const facts = { ...input().facts, model: 'Fennick' };
  expect(explain(input({ weakPoints: [{ ...BELT, appliesTo: { models: ['Corrow'] } }], facts }), 'belt')).toBeNull();
});

test('the curve runs from today on', () => {
  const { running } = explain(input(), 'belt')!;
  expect(running[0]).toEqual({ day: TODAY, chance: 1 });
  expect(running[1]!.day).toBeGreaterThan(TODAY);
});
