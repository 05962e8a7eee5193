/**
 * The angle after which a line that was drawn on a turned picture lies level, or upright where it is nearer to that.
 * @param degrees of the turn as it is, counter-clockwise as seen; it is the last thing that is done to the picture
 * @param dx along the line as seen, to the right
 * @param dy along the line as seen, up
 * @returns degrees, from −180 to 180
 */
export function straightenedAngle(degrees: number, dx: number, dy: number): number {
  const slope = (Math.atan2(dy, dx) * 180) / Math.PI;
  // To the nearest of level and upright.
  const next = degrees - (slope - 90 * Math.round(slope / 90));
  return Math.round((next - 360 * Math.round(next / 360)) * 1000) / 1000;
}
