import { readWords, type LineWord, type Vocabulary } from './lineWords.ts';

const VOCABULARY: Vocabulary = {
  codeKey: 'qv20t',
  names: ['Vellmar', '2.0 turbo petrol'],
  models: ['Corrow', 'Saltmere Wagon'],
  features: [
    { key: 'side-cooler', name: 'Side cooler' },
    { key: 'oil-plate', name: 'Heat exchanger in the filter housing' },
  ],
  symptoms: [
    { key: 'rattle-start', words: 'Rattle for two or three seconds at the first start', codes: ['P0016'] },
    { key: 'rattle-off', words: 'Rattle on lift-off', codes: [] },
    { key: 'runs-cold', words: 'Slow to warm up, little heat', codes: ['P0128'] },
  ],
};
const read = (line: string): LineWord[] => readWords(line.split(' '), VOCABULARY);
const kinds = (line: string): string[] => read(line).map(({ text, kind }) => `${text}: ${kind}`);

test('the engine’s own code and names are its own, however they are written', () => {
  expect(kinds('QV20T Vellmar turbo')).toEqual(['QV20T: engine', 'Vellmar: engine', 'turbo: engine']);
  expect(kinds('qv 20 t')).toEqual(['qv 20 t: engine']);
  expect(kinds('vellmar2.0 banana')).toEqual(['vellmar2.0: engine', 'banana: unused']);
  expect(read('QV20T Vellmar banana').map(({ means }) => means)).toEqual([[], [], []]);
});
test('a model of one or two words is known by its name', () => {
  expect(read('QV20T corrow')[1]).toEqual({ text: 'corrow', kind: 'model', means: ['Corrow'] });
  expect(read('saltmere wagon QV20T')[0]).toEqual({ text: 'saltmere wagon', kind: 'model', means: ['Saltmere Wagon'] });
});
test('a feature is known by its name, and by its key', () => {
  expect(read('side cooler')).toEqual([{ text: 'side cooler', kind: 'feature', means: ['side-cooler'] }]);
  expect(read('oil-plate')).toEqual([{ text: 'oil-plate', kind: 'feature', means: ['oil-plate'] }]);
});
test('a symptom is known by a code, or by a telling word whatever its ending', () => {
  expect(read('p0016')[0]).toEqual({ text: 'p0016', kind: 'symptom', means: ['rattle-start'] });
  for (const word of ['rattle', 'rattles', 'rattling', 'Rattled'])
    expect(read(word)[0]).toMatchObject({ kind: 'symptom', means: ['rattle-start', 'rattle-off'] });
});
test('three letters of a word tell it, two do not', () => {
  expect(read('hea')[0]).toMatchObject({ kind: 'symptom', means: ['runs-cold'] });
  expect(read('he')[0]!.kind).toBe('unused');
});
test('two words that both tell mean what both of them tell; where nothing does, each what it tells', () => {
  expect(read('rattle start').map(({ means }) => means)).toEqual([['rattle-start'], ['rattle-start']]);
  expect(read('QV20T rattle start').map(({ means }) => means)).toEqual([[], ['rattle-start'], ['rattle-start']]);
  expect(read('rattle heat').map(({ means }) => means)).toEqual([['rattle-start', 'rattle-off'], ['runs-cold']]);
});
test('of a word with a hyphen each part must be told, and one of them telling', () => {
  expect(read('lift-off')).toEqual([{ text: 'lift-off', kind: 'symptom', means: ['rattle-off'] }]);
  expect(read('rattle lift-off').map(({ means }) => means)).toEqual([['rattle-off'], ['rattle-off']]);
  expect(read('lift-tail')[0]!.kind).toBe('unused');
  expect(read('on-off')[0]!.kind).toBe('unused');
});
test('what is none of these is said to be unused, short words of a symptom among them', () =>
  expect(kinds('banana at for up')).toEqual(['banana: unused', 'at: unused', 'for: unused', 'up: unused']));
test('no words, nothing read', () => expect(readWords([], VOCABULARY)).toEqual([]));
