/** ln(e^a + e^b + ...) without overflow; -Infinity for nothing. */
export function logSumExp(values: readonly number[]): number {
  const most = Math.max(...values, -Infinity);
  if (most === -Infinity || most === Infinity) return most;
  return most + Math.log(values.reduce((sum, value) => sum + Math.exp(value - most), 0));
}

/** ln(e^a + e^b) without overflow. */
export function logAddExp(a: number, b: number): number {
  const most = Math.max(a, b);
  return most === -Infinity ? most : most + Math.log1p(Math.exp(Math.min(a, b) - most));
}
