import { ENGINE_STATES, FORBIDDABLE, forbiddenWith, isAllowed, leftOutWords, needsWords } from './needs.ts';

test('what stands still is always allowed; what is forbidden never is', () => {
  for (const state of FORBIDDABLE) {
    const forbidden = forbiddenWith([state]);
    expect(isAllowed({ engine: 'off' }, forbidden)).toBe(true);
    expect(isAllowed({ engine: state }, forbidden)).toBe(false);
  }
  for (const engine of ENGINE_STATES) expect(isAllowed({ engine }, forbiddenWith([]))).toBe(true);
});

test('an engine that must not run is not driven; one that must not be cranked may run on', () => {
  expect(isAllowed({ engine: 'driven' }, forbiddenWith(['running']))).toBe(false);
  expect(isAllowed({ engine: 'cranking' }, forbiddenWith(['running']))).toBe(true);
  expect(isAllowed({ engine: 'running' }, forbiddenWith(['cranking']))).toBe(true);
  expect(isAllowed({ engine: 'running' }, forbiddenWith(['driven']))).toBe(true);
});

test('needs are said in words, and what stands still needs none', () => {
  expect(needsWords({ engine: 'off' })).toBe('');
  expect(needsWords({ engine: 'running', heat: 'warm', lifted: true })).toBe('warm and running, on the lift');
  expect(needsWords({ engine: 'running', heat: 'cold' })).toBe('cold start');
  expect(needsWords({ engine: 'cranking', heat: 'cold' })).toBe('cold, turned by the starter');
});

test('what is left out says what it would have needed, each once', () => {
  expect(leftOutWords([])).toBe('');
  expect(leftOutWords(['cranking'])).toBe(
    'One check is left out: it needs the starter. That could do harm until the cause is found.',
  );
  expect(leftOutWords(['running', 'running', 'driven'])).toBe(
    '3 checks are left out: they need a running engine or a drive. That could do harm until the cause is found.',
  );
});
