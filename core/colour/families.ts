import { overPlanes } from '../kernels/planes';
import { simd } from '../kernels/wasm';
import { smoothstep } from '../mask/smoothstep';
import { COLOURED, GREY, hueShareOf } from './hue-share';
import type { Colour } from './lab';
import { lightOf, oklabOf } from './oklch';
import { coded, decoded } from './srgb';

type Planes = readonly Float32Array[];

/** One family of hues and what is done to it; angles in degrees of OKLCh. */
export interface Band {
  readonly centre: number;
  /** From end to end, where it counts fully. */
  readonly width: number;
  /** Over which it falls to nothing on either side. */
  readonly soft: number;
  readonly turn: number;
  /** Times the chroma. */
  readonly chroma: number;
  /** Added to OKLab's L. */
  readonly lightness: number;
  /** Added to red, green and blue as they are coded. */
  readonly shift: readonly number[];
}

/** How much a colour belongs to a band, by its a and b. */
const shareOf = ({ centre, width, soft }: Pick<Band, 'centre' | 'width' | 'soft'>) =>
  hueShareOf({ centre, width, soft, chroma: COLOURED });

const labOf = (planes: Planes, i: number): [number, number, number] =>
  oklabOf([decoded(planes[0][i]), decoded(planes[1][i]), decoded(planes[2][i])]);

function put(out: Planes, i: number, lab: Colour, shift: readonly number[] = [0, 0, 0], share = 0): void {
  lightOf(lab).forEach((light, p) => {
    out[p][i] = coded(light) + share * shift[p];
  });
}

const RADIANS = Math.PI / 180;

/**
 * Does to one family of hues what its band says: turns, enriches or dulls, lifts, then pushes. What lies outside of it stays as it is.
 * @param planes red, green and blue, coded by sRGB
 */
export function turnHues(planes: Planes, band: Band, out: Planes): void {
  const wasm = simd();
  if (!wasm) {
    turnHuesPlain(planes, band, out);
    return;
  }
  const { centre, width, soft, turn, chroma, lightness, shift } = band;
  const numbers = [
    Math.cos(centre * RADIANS),
    Math.sin(centre * RADIANS),
    (width / 2) * RADIANS,
    1 / Math.max(1e-6, soft * RADIANS),
    GREY * COLOURED,
    1 / ((1 - GREY) * COLOURED),
    turn * RADIANS,
    chroma - 1,
    lightness,
    ...shift,
  ];
  overPlanes(wasm, planes, out, (n, from, to) => {
    wasm.run.hueBand(wasm.pointers([...from, ...to]), n, wasm.numbers(numbers));
  });
}

/** {@link turnHues} in plain TypeScript, in double precision: the reference. */
export function turnHuesPlain(planes: Planes, band: Band, out: Planes): void {
  const share = shareOf(band);
  for (let i = 0; i < out[0].length; i++) {
    const [l, a, b] = labOf(planes, i);
    const w = share(a, b);
    if (w === 0 || l !== l) {
      out.forEach((to, p) => {
        to[i] = l === l ? planes[p][i] : Number.NaN;
      });
      continue;
    }
    const [sin, cos] = [Math.sin(w * band.turn * RADIANS), Math.cos(w * band.turn * RADIANS)];
    const by = 1 + w * (band.chroma - 1);
    put(out, i, [l + w * band.lightness, by * (a * cos - b * sin), by * (b * cos + a * sin)], band.shift, w);
  }
}

/** How much more colourful an image becomes: −1 grey, 1 double; `shadows` is the share of it that dark pixels get. */
export interface Enriching {
  readonly amount: number;
  readonly shadows: number;
}

/** OKLab's L from which on a pixel is no shadow. */
const LIT = 0.3;

/**
 * OKLCh chroma times `1 + amount·w`, `w = shadows + (1 − shadows)·smoothstep(0, 0.3, L)`.
 * @param planes red, green and blue, coded by sRGB
 */
export function saturate(planes: Planes, { amount, shadows }: Enriching, out: Planes): void {
  const wasm = simd();
  if (!wasm) {
    saturatePlain(planes, { amount, shadows }, out);
    return;
  }
  overPlanes(wasm, planes, out, (n, from, to) => {
    wasm.run.saturate(wasm.pointers([...from, ...to]), n, amount, shadows);
  });
}

/** {@link saturate} in plain TypeScript, in double precision: the reference. */
export function saturatePlain(planes: Planes, { amount, shadows }: Enriching, out: Planes): void {
  for (let i = 0; i < out[0].length; i++) {
    const [l, a, b] = labOf(planes, i);
    const by = 1 + amount * (shadows + (1 - shadows) * smoothstep(l / LIT));
    put(out, i, [l, by * a, by * b]);
  }
}
