// The coding of sRGB (IEC 61966-2-1), carried on below nought as on the other side of it, and above one.

const LINEAR_BELOW = 0.0031308;
const CODED_BELOW = 0.04045;

/** Light from a coded number. */
export function srgbToLinear(v: number): number {
  const size = Math.abs(v);
  const light = size <= CODED_BELOW ? size / 12.92 : ((size + 0.055) / 1.055) ** 2.4;
  return v < 0 ? -light : light;
}

/** The coded number of a light. */
export function linearToSrgb(v: number): number {
  const size = Math.abs(v);
  const code = size <= LINEAR_BELOW ? 12.92 * size : 1.055 * size ** (1 / 2.4) - 0.055;
  return v < 0 ? -code : code;
}
