// OKLab (Björn Ottosson, 2020, https://bottosson.github.io/posts/oklab/) of light in Rec. 709 primaries, and its polar form.

import type { Colour } from './lab';

/** L (0–1), a, b of red, green and blue light. */
export function linearToOklab([r, g, b]: Colour): [number, number, number] {
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}

/** Red, green and blue light of L, a, b. */
export function oklabToLinear([l, a, b]: Colour): [number, number, number] {
  const x = (l + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const y = (l - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const z = (l - 0.0894841775 * a - 1.291485548 * b) ** 3;
  return [
    4.0767416621 * x - 3.3077115913 * y + 0.2309699292 * z,
    -1.2684380046 * x + 2.6097574011 * y - 0.3413193965 * z,
    -0.0041960863 * x - 0.7034186147 * y + 1.707614701 * z,
  ];
}

/** Lightness, chroma, and hue in degrees (0 to 360) of red, green and blue light. */
export function oklchOf(light: Colour): [number, number, number] {
  const [l, a, b] = linearToOklab(light);
  const degrees = (Math.atan2(b, a) * 180) / Math.PI;
  return [l, Math.hypot(a, b), degrees < 0 ? degrees + 360 : degrees];
}

/** Degrees between two hues, 0 to 180. */
export function hueDistance(a: number, b: number): number {
  const by = (((a - b) % 360) + 360) % 360;
  return by > 180 ? 360 - by : by;
}
