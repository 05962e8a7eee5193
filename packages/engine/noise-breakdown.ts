import type { NoiseContributions } from './noise-propagation';

/** A stack's part in the noise of an image. */
export interface NoiseShare {
  readonly stack: string;
  /** Of the noise's square, 0 to 1: noises that do not know of each other add up squared. */
  readonly share: number;
}

/** Which stacks the noise of an image comes from, the greatest part first; the planes of one stack together. */
export function noiseBreakdown(hang: NoiseContributions): NoiseShare[] {
  const squares = new Map<string, number>();
  for (const [plane, part] of hang) {
    const stack = plane.replace(/ \d+$/, '');
    squares.set(stack, (squares.get(stack) ?? 0) + part * part);
  }
  const total = [...squares.values()].reduce((sum, v) => sum + v, 0);
  if (!(total > 0)) return [];
  return [...squares]
    .map(([stack, square]): NoiseShare => ({ stack, share: square / total }))
    .sort((a, b) => b.share - a.share);
}

/** Parts as people say them, each up to half-way to the next. */
const PARTS: readonly (readonly [number, string])[] = [
  [1, 'nearly all'],
  [9 / 10, 'nine tenths'],
  [4 / 5, 'four fifths'],
  [3 / 4, 'three quarters'],
  [2 / 3, 'two thirds'],
];

/** A stack that brings less than this much does not rule a column. */
const DOMINANT_SHARE = 0.63;

/**
 * What should be known of a column's noise before the picture is looked at: that one stack among several brings most of it.
 * @returns nothing where the stacks share it, or there is only one
 */
export function noiseWarning(column: string, shares: readonly NoiseShare[]): string | undefined {
  const [first] = shares;
  if (shares.length < 2 || first.share < DOMINANT_SHARE) return undefined;
  const [, words] = PARTS.reduce((best, next) =>
    Math.abs(next[0] - first.share) < Math.abs(best[0] - first.share) ? next : best,
  );
  return `${words} of ${column}’s noise ${first.share > 0.97 ? 'comes' : 'come'} from ${first.stack}`;
}
