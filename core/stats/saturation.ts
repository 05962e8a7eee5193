/** How many pixels must pile up at the top before it is a ceiling and not a peak. */
const PILE = 5;

/**
 * The value from which pixels count as saturated: just under the greatest one where several pixels pile up there;
 * infinity where the greatest value is a lone peak.
 */
export function saturationOf(values: Float32Array): number {
  let max = Number.NEGATIVE_INFINITY;
  for (let i = 0; i < values.length; i++) if (values[i] > max) max = values[i];
  if (!(max > 0)) return Number.POSITIVE_INFINITY;
  const top = max * 0.999;
  let piled = 0;
  let finite = 0;
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (v === v) finite++;
    if (v >= top) piled++;
  }
  // A picture that lies almost wholly at one value is flat, not saturated.
  return piled >= PILE && piled < finite / 4 ? max * 0.995 : Number.POSITIVE_INFINITY;
}
