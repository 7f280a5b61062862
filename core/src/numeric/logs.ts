/** ln(e^a + e^b) without overflow. */
export function logAddExp(a: number, b: number): number {
  const most = Math.max(a, b);
  return most === -Infinity ? most : most + Math.log1p(Math.exp(Math.min(a, b) - most));
}
