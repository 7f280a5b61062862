import { foundBy, holdsAll, likePattern, searchPatterns } from './search.ts';

test('words are looked for anywhere, whatever their case', () =>
  expect(searchPatterns('  QV20T  Tensioner ')).toEqual(['%qv20t%', '%tensioner%']));
test('the signs of a pattern are taken as they are typed', () => expect(likePattern('50%_\\')).toBe('%50\\%\\_\\\\%'));
test('no more words than a query can serve', () =>
  expect(searchPatterns(Array.from({ length: 50 }, (_, i) => `w${i}`).join(' '))).toHaveLength(8));
test('nothing typed holds everything', () => {
  expect(searchPatterns(' \t\n')).toEqual([]);
  expect(holdsAll('t.x', [], () => '$1')).toBe('true');
});
test('every word is a condition of its own, its value bound and never written into the query', () => {
  const values: unknown[] = ['first'];
  const sql = holdsAll('t.x', searchPatterns("o'neill; drop"), (value) => `$${values.push(value)}`);
  expect(sql).toBe('t.x like $2 and t.x like $3');
  expect(values).toEqual(['first', "%o'neill;%", '%drop%']);
});
test('a row is found by the words it has, in lower case', () =>
  expect(foundBy(['Timing BELT', null, undefined, '', 'QV16B'])).toBe('timing belt qv16b'));
