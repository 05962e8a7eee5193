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

/** Side by side tiles into which a picture is parted for a jackknife: neighbours in a tile may share their noise, tiles do not. */
export function tileGrid(
  width: number,
  height: number,
  across = 8,
): { count: number; tileWidth: number; indexOf(x: number, y: number): number } {
  const tw = Math.max(1, Math.ceil(width / across));
  const th = Math.max(1, Math.ceil(height / across));
  const columns = Math.ceil(width / tw);
  const rows = Math.ceil(height / th);
  return { count: columns * rows, tileWidth: tw, indexOf: (x, y) => Math.floor(y / th) * columns + Math.floor(x / tw) };
}
