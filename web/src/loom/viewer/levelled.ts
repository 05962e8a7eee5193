/**
 * The angle of a `place` step after which a line drawn on its result lies level, or upright where it is nearer to that.
 * @param dx along the line, full-size pixels to the right
 * @param dy along the line, full-size pixels up
 * @returns degrees, from −180 to 180
 */
export function levelled(step: { readonly [parameter: string]: unknown }, dx: number, dy: number): number {
  const slope = (Math.atan2(dy, dx) * 180) / Math.PI;
  // To the nearest of level and upright.
  const off = slope - 90 * Math.round(slope / 90);
  // A flip comes after the turn, and turns its sense about.
  const sense = step.flip === undefined || step.flip === 'none' ? 1 : -1;
  const degrees = (typeof step.degrees === 'number' ? step.degrees : 0) - sense * off;
  const held = degrees - 360 * Math.round(degrees / 360);
  return Math.round(held * 1000) / 1000;
}
