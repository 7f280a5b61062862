import type { Answer } from '../../api/answer.ts';
import { settledWords } from './settled.ts';

const rows = [{ componentKey: 'vl-belt', component: 'Timing belt' }] as unknown as Answer['rows'];
const words = (about: string, answer: string): string => {
  const { about: what, said } = settledWords({ about, answer }, rows, 'km');
  return `${what}: ${said}`;
};

test.each([
  ['history:vl-belt', 'never', 'Timing belt: never renewed'],
  ['history:vl-belt', 'unknown', 'Timing belt: not known'],
  ['history:vl-belt', 'renewed 2024-05-14 original', 'Timing belt: renewed about 14 May 2024'],
  ['history:vl-belt', 'renewed 235000km cheap', 'Timing belt: renewed at about 235,000\u00a0km, cheap part'],
  ['history:vl-belt', 'renewed lately', 'Timing belt: renewed lately'],
  ['history:vl-belt', 'once', 'Timing belt: once'],
  ['history:other-part', 'never', 'other part: never renewed'],
  ['fitted:vl-belt', 'C', 'Timing belt: revision C'],
  ['fitted:vl-belt', 'older', 'Timing belt: an older one'],
  ['feature:side-cooler', 'no', 'side cooler: no'],
  ['market', 'hot and dusty', 'market: hot and dusty'],
])('%s=%s is said as “%s”', (about, answer, said) => expect(words(about, answer)).toBe(said));
