import { coded, decoded } from './srgb';

const LAST = 16_384;

/**
 * A function as straight lines between many points of 0 to 1, and itself outside.
 * @param rooted points lie evenly over the square root, for what is steep near nought
 */
function tabled(of: (v: number) => number, rooted: boolean): (v: number) => number {
  const points = Float64Array.from({ length: LAST + 2 }, (_, i) => {
    const at = Math.min(1, i / LAST);
    return of(rooted ? at * at : at);
  });
  return (v) => {
    if (!(v >= 0 && v <= 1)) return of(v);
    const at = LAST * (rooted ? Math.sqrt(v) : v);
    const i = Math.floor(at);
    return points[i] + (at - i) * (points[i + 1] - points[i]);
  };
}

/** {@link decoded} to within 1e-8. */
export const quickDecoded = tabled(decoded, false);
/** {@link coded} to within 1e-6. */
export const quickCoded = tabled(coded, true);
