import { GLANCE_MINUTES, isGlance, type GlanceFacts } from './glance.ts';

const plain: GlanceFacts = { consequence: 'leak', safety: false, look: { minutes: 4, method: 'look' } };

test('a plain look of a few minutes at a part that only leaks is a glance', () => {
  expect(isGlance(plain)).toBe(true);
  expect(isGlance({ ...plain, look: { minutes: GLANCE_MINUTES, off: [] } })).toBe(true);
});

test.each<[string, GlanceFacts]>([
  ['an engine part', { ...plain, consequence: 'engine' }],
  ['a safety part', { ...plain, safety: true }],
  ['a look of more than five minutes', { ...plain, look: { minutes: 6 } }],
  ['a measurement', { ...plain, look: { minutes: 4, measure: { limit: 3 } } }],
  ['a reading of codes', { ...plain, look: { minutes: 4, method: 'codes' } }],
  ['a bearing that is spun', { ...plain, look: { minutes: 4, method: 'spin' } }],
  ['a look with a cover off', { ...plain, look: { minutes: 4, off: ['cover'] } }],
  ['a look at a running engine', { ...plain, look: { minutes: 4, needs: { engine: 'running' } } }],
])('%s is looked at by itself', (_words, facts) => expect(isGlance(facts)).toBe(false));
