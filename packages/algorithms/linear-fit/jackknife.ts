/**
 * The error of an estimate by leaving out one group at a time (Tukey 1958): √((m−1)/m · Σ(θᵢ − θ̄)²).
 * @param without estimates, each made without one of the m groups
 */
export function jackknifeError(without: readonly number[]): number {
  const m = without.length;
  if (m < 2) return Number.NaN;
  const mean = without.reduce((s, v) => s + v, 0) / m;
  const sum = without.reduce((s, v) => s + (v - mean) ** 2, 0);
  return Math.sqrt(((m - 1) / m) * sum);
}
