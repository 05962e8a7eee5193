import { midtone } from '../tone/curves';

/**
 * The midtone curve of a strength, carried on by straight lines beyond 0 and 1, so that that of 1 − strength undoes it everywhere.
 * @param s between 0 and 1
 */
export function extendedMidtone(s: number): (t: number) => number {
  const [bottom, top] = [(1 - s) / s, s / (1 - s)];
  return (t) => (t <= 0 ? bottom * t : t >= 1 ? 1 + top * (t - 1) : midtone(t, s));
}
