import { TEMPER_STEPS, temperStep } from './temper.ts';
import { distanceText, minutesText, percentText, spansText, todayDistance } from './units.ts';

test('temper colours change exactly at their thresholds, in order', () => {
  TEMPER_STEPS.forEach(({ from }, step) => {
    expect(temperStep(from)).toBe(step);
    if (step > 0) expect(temperStep(from - 1e-9)).toBe(step - 1);
  });
  expect(temperStep(1)).toBe(TEMPER_STEPS.length - 1);
});

test.each([[0, '< 0.1 %'], [0.0004, '< 0.1 %'], [0.047, '4.7 %'], [0.12, '12 %'], [0.999, '> 99 %'], [0.0949, '9.5 %']])('chance %d reads %s', (chance, text) => expect(percentText(chance)).toBe(text));
test.each([[45, '45 min'], [60, '1 h'], [190, '3 h 10'], [125, '2 h 05']])('%d minutes read %s', (minutes, text) => expect(minutesText(minutes)).toBe(text));
test('distances in the vehicle’s unit, rounded to what they are worth', () => {
  expect(distanceText(148_059.648, 'mi')).toBe('92,000\u00a0mi');
  expect(distanceText(148_249, 'km', 100)).toBe('148,200\u00a0km');
});
test('spans as people say them', () => {
  expect(spansText([{ clock: 'distance', from: 90_000, to: 180_000 }, { clock: 'age', from: 2922, to: 2922 }], 'km')).toBe('90,000 to 180,000 km or 8 years');
  expect(spansText([{ clock: 'age', from: 152, to: 152 }], 'km')).toBe('5 months');
});
test('days from today', () => expect([0, 1, -1, 1587].map(todayDistance)).toEqual(['today', 'in 1 day', '1 day ago', 'in 1,587 days']));
