/** Takes out, as NaN, the pixels of a piece that do not count beside its partner, in plain TypeScript. */
export function maskExcludedReference(
  piece: Float32Array,
  partner: Float32Array,
  [lowA, highA, lowB, highB]: readonly number[],
): void {
  for (let i = 0; i < piece.length; i++) {
    const [a, b] = [piece[i], partner[i]];
    if (!(a >= lowA && a <= highA && b >= lowB && b <= highB)) piece[i] = Number.NaN;
  }
}
