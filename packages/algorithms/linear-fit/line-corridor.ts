import type { FitInput, Line, PairSums } from './pairs';

/** A line about which pairs are kept, and how far from it, in coordinates about an origin. */
export interface LineCorridor {
  readonly line: Line;
  /** Where the residuals' middle lies. */
  readonly centre: number;
  readonly reach: number;
  /** How much wider the reach grows with the distance from the origin, as a slope. */
  readonly widening: number;
}

/** The sums of one segment in plain TypeScript: the reference. */
export function sumsNearLineReference(
  pairs: { readonly input: FitInput; isSelected(target: number, reference: number): boolean },
  { line, centre, reach, widening }: LineCorridor,
  origin: { x: number; y: number },
  at: number,
  n: number,
  sums: PairSums,
): void {
  const { target, reference } = pairs.input;
  for (let i = at; i < at + n; i++) {
    if (!pairs.isSelected(target[i], reference[i])) continue;
    const x = target[i] - origin.x;
    const y = reference[i] - origin.y;
    const r = y - line.a - line.b * x - centre;
    if (r * r <= reach * reach + widening * widening * x * x) sums.add(x, y);
  }
}
