/** ln(e^a + e^b + ...) without overflow; -Infinity for nothing. */
export function logSumExp(values: readonly number[]): number {
  const most = Math.max(...values, -Infinity);
  if (most === -Infinity || most === Infinity) return most;
  return most + Math.log(values.reduce((sum, value) => sum + Math.exp(value - most), 0));
}
