import { type Triple, mapTriple } from '@owl-loom/base/triple';

/** A blend of the cloth under a layer and the layer: plane by plane, or of all three planes together. */
export type Blend = {
  /** What it does, for people. */
  readonly says: string;
} & (
  | { readonly planes: 1; readonly of: (below: number, top: number) => number }
  | { readonly planes: 3; readonly of: (below: Readonly<Triple>, top: Readonly<Triple>) => Triple }
);

type Plain = (below: number, top: number) => number;

const held = (v: number): number => (v < 0 ? 0 : v > 1 ? 1 : v);

/** A mode that takes any numbers. */
const unclampedMode = (says: string, of: Plain): Blend => ({ says, planes: 1, of });
/** A mode that is defined on 0–1 and holds its inputs to it. */
const clampedMode = (says: string, of: Plain): Blend => ({
  says,
  planes: 1,
  of: (below, top) => of(held(below), held(top)),
});

const screen: Plain = (b, t) => b + t - b * t;
const hardLight: Plain = (b, t) => (t <= 0.5 ? 2 * b * t : screen(b, 2 * t - 1));

function softLight(b: number, t: number): number {
  if (t <= 0.5) return b - (1 - 2 * t) * b * (1 - b);
  const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b);
  return b + (2 * t - 1) * (d - b);
}

/** Luminosity of W3C Compositing and Blending Level 1 §10.2, which is not Rec. 709. */
const lum = ([r, g, b]: Readonly<Triple>): number => 0.3 * r + 0.59 * g + 0.11 * b;
const sat = (c: Readonly<Triple>): number => Math.max(...c) - Math.min(...c);

/** The colour drawn towards its own luminosity until it lies within 0–1. */
function clipColour(c: Triple): Triple {
  const l = lum(c);
  const n = Math.min(...c);
  const x = Math.max(...c);
  return mapTriple(c, (v) => {
    let w = v;
    if (n < 0) w = l + ((w - l) * l) / (l - n);
    if (x > 1) w = l + ((w - l) * (1 - l)) / (x - l);
    return w;
  });
}

function withLum(c: Readonly<Triple>, l: number): Triple {
  const d = l - lum(c);
  return clipColour([c[0] + d, c[1] + d, c[2] + d]);
}

function withSat(c: Readonly<Triple>, s: number): Triple {
  const low = Math.min(...c);
  const range = Math.max(...c) - low;
  return mapTriple(c, (v) => (range > 0 ? ((v - low) * s) / range : 0));
}

/** A mode of whole colours, held to 0–1. */
const ofColours = (says: string, of: (below: Triple, top: Triple) => Triple): Blend => ({
  says,
  planes: 3,
  of: (below, top) => of(mapTriple(below, held), mapTriple(top, held)),
});

/**
 * The blend modes: those of W3C Compositing and Blending Level 1 (§10.1 and §10.2), and add, subtract, average and linear-light, which
 * clip nothing. Adding one is adding it here.
 */
export const BLENDS = {
  normal: unclampedMode('covers what is below', (_, t) => t),
  multiply: clampedMode('product: darkens, white has no effect', (b, t) => b * t),
  screen: clampedMode('adds light, never above white', screen),
  overlay: clampedMode('more contrast where the cloth is light or dark', (b, t) => hardLight(t, b)),
  darken: unclampedMode('shows wherever it is darker', (b, t) => (b < t ? b : t)),
  lighten: unclampedMode('shows wherever it is brighter', (b, t) => (b > t ? b : t)),
  'color-dodge': clampedMode('brightens the cloth towards white', (b, t) =>
    b <= 0 ? 0 : t >= 1 ? 1 : Math.min(1, b / (1 - t)),
  ),
  'color-burn': clampedMode('darkens the cloth towards black', (b, t) =>
    b >= 1 ? 1 : t <= 0 ? 0 : 1 - Math.min(1, (1 - b) / t),
  ),
  'hard-light': clampedMode('screens where it is light, darkens where it is dark', hardLight),
  'soft-light': clampedMode('lifts and deepens gently', softLight),
  difference: clampedMode('absolute difference', (b, t) => Math.abs(b - t)),
  exclusion: clampedMode('how far apart, with less contrast', (b, t) => b + t - 2 * b * t),
  hue: ofColours('hue of the layer; saturation and brightness of the cloth', (b, t) =>
    withLum(withSat(t, sat(b)), lum(b)),
  ),
  saturation: ofColours('its saturation, the rest of the cloth', (b, t) => withLum(withSat(b, sat(t)), lum(b))),
  color: ofColours('its hue and saturation, the light of the cloth', (b, t) => withLum(t, lum(b))),
  luminosity: ofColours('its light, the colours of the cloth', (b, t) => withLum(b, lum(t))),
  add: unclampedMode('sum, not clipped', (b, t) => b + t),
  subtract: unclampedMode('cloth minus layer, not clipped', (b, t) => b - t),
  average: unclampedMode('mean of both', (b, t) => (b + t) / 2),
  'linear-light': unclampedMode('adds what is above grey, takes off what is below', (b, t) => b + 2 * t - 1),
} as const satisfies Record<string, Blend>;

export type BlendMode = keyof typeof BLENDS;

/** Modes that make sense only on data made for display. */
export const DISPLAY_BLENDS: ReadonlySet<BlendMode> = new Set<BlendMode>([
  'screen',
  'overlay',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'linear-light',
  'hue',
  'saturation',
  'color',
  'luminosity',
  'multiply',
  'exclusion',
]);
