/** Knots of a star's profile by distance from its middle. */
export const KNOTS = 64;
/** Every half pixel as far as this knot, then further and further apart. */
const EVEN = 16;
const FURTHER = 1.08;
const LOG_FURTHER = Math.log(FURTHER);

/** The distance of a knot, in pixels. */
export const radiusAt = (knot: number): number => (knot <= EVEN ? knot / 2 : (EVEN / 2) * FURTHER ** (knot - EVEN));

/** Where a distance lies between the knots. */
export const knotOfRadius = (radius: number): number =>
  radius <= EVEN / 2 ? 2 * radius : EVEN + Math.log(radius / (EVEN / 2)) / LOG_FURTHER;

/** A profile's value at a distance; 0 beyond its last knot. */
export function profileAt(table: ArrayLike<number>, radius: number): number {
  const at = knotOfRadius(radius);
  const bottom = Math.floor(at);
  if (bottom >= KNOTS - 1) return 0;
  const share = at - bottom;
  return (1 - share) * table[bottom] + share * table[bottom + 1];
}
