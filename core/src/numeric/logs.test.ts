import { logAddExp } from './logs.ts';

test.each([
  [Math.log(2), Math.log(3), Math.log(5)],
  [Math.log(3), Math.log(2), Math.log(5)],
  [0, 0, Math.LN2],
  [1000, 1000, 1000 + Math.LN2],
  [-1000, -1000, -1000 + Math.LN2],
  [1000, 0, 1000],
  [-2, -Infinity, -2],
  [-Infinity, -2, -2],
  [-Infinity, -Infinity, -Infinity],
])('ln(e^%d + e^%d)', (a, b, wanted) => {
  const sum = logAddExp(a, b);
  if (Number.isFinite(wanted)) expect(sum).toBeCloseTo(wanted, 12);
  else expect(sum).toBe(wanted);
});
