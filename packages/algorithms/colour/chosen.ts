// Colours that people choose: as they type them, and by lightness, chroma and hue of OKLCh, held to what sRGB can show.

import { parseHexColour } from './hex';
import { oklabToLinear, oklchOf } from './oklch';
import { linearToSrgb, srgbToLinear } from './srgb';

/** Lightness (0 to 1), chroma and hue in degrees of OKLCh. */
export type Lch = readonly [lightness: number, chroma: number, hue: number];

/** No colour of sRGB has more chroma. */
export const MAX_CHROMA = 0.33;

const byte = (value: number): string =>
  Math.round(255 * Math.min(1, Math.max(0, value)))
    .toString(16)
    .padStart(2, '0');

/** `#rrggbb` of three coded numbers, held to 0 to 1. */
export const hexOf = (numbers: readonly number[]): string => `#${numbers.map(byte).join('')}`;

/** Lightness, chroma and hue of `#rrggbb`; a grey has hue 0. */
export function lchOf(hex: string): Lch {
  const [r, g, b] = parseHexColour(hex).map(srgbToLinear);
  const [l, c, h] = oklchOf([r, g, b]);
  return [Math.min(1, Math.max(0, l)), c < 1e-4 ? 0 : c, c < 1e-4 ? 0 : h];
}

const codedOf = ([l, c, h]: Lch): number[] => {
  const turn = (h * Math.PI) / 180;
  return oklabToLinear([l, c * Math.cos(turn), c * Math.sin(turn)]).map(linearToSrgb);
};

/** What a rounding of the conversion may leave outside, in coded numbers: far less than half of 1/255. */
const ROUNDING = 1e-4;

const isShown = (lch: Lch): boolean => codedOf(lch).every((v) => v >= -ROUNDING && v <= 1 + ROUNDING);

/** The greatest chroma that sRGB shows at a lightness and hue, to a thousandth of {@link MAX_CHROMA}. */
export function mostChroma(lightness: number, hue: number): number {
  let [min, max] = [0, MAX_CHROMA];
  for (let i = 0; i < 10; i++) {
    const middle = (min + max) / 2;
    if (isShown([lightness, middle, hue])) min = middle;
    else max = middle;
  }
  return min;
}

/** `#rrggbb` of a lightness, chroma and hue; more chroma than sRGB shows is taken back to what it does, lightness and hue stay. */
export const hexFrom = ([l, c, h]: Lch): string =>
  hexOf(codedOf(isShown([l, c, h]) ? [l, c, h] : [l, mostChroma(l, h), h]));

/**
 * A colour as people type it: `#rgb`, `#rrggbb` with or without the sign, or three numbers for red, green and blue, of 0 to 255, or of 0 to 1
 * where none is above 1.
 * @returns `#rrggbb`; undefined where it is none of these
 */
export function colourTyped(text: string): string | undefined {
  const typed = text.trim().toLowerCase();
  const [, hex] = /^#?([0-9a-f]{3}|[0-9a-f]{6})$/.exec(typed) ?? [];
  if (hex?.length === 6) return `#${hex}`;
  if (hex) return `#${[...hex].map((digit) => digit + digit).join('')}`;
  const parts = typed
    .replace(/^rgb\s*\((.*)\)$/, '$1')
    .split(/[\s,;]+/)
    .filter(Boolean);
  const numbers = parts.map(Number);
  if (numbers.length !== 3 || !numbers.every((n) => n >= 0 && n <= 255)) return undefined;
  if (numbers.every((n) => n <= 1)) return hexOf(numbers);
  return parts.some((part) => part.includes('.')) ? undefined : hexOf(numbers.map((n) => n / 255));
}
