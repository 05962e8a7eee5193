import { blendKernel } from '@owl-loom/algorithms/blend/layer';
import { type BlendMode, BLENDS } from '@owl-loom/algorithms/blend/modes';
import { inpaintCircles } from '@owl-loom/algorithms/inpaint/harmonic-fill';
import type { Raster } from '@owl-loom/image/raster/raster';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Layer, Recipe } from '@owl-loom/recipe/schema';
import { holeCircles, removeStars } from '@owl-loom/algorithms/star-removal/remove-stars';
import { detectStarField } from '@owl-loom/algorithms/stars/field';
import { makeSky } from '@owl-loom/testing/skies';
import { madePlane, shortest } from './synthetic';
import { SEVEN } from './large-session';
import { keysOf } from '@owl-loom/base/typed-keys';

const nothing = (): void => undefined;

/** Each blend of two colour images through a mask, times a copy of the same three planes, on one core; strip by strip, as the engine runs them. */
export function blendsOverCopy(): Record<string, number> {
  const rect: Rect = { x: 0, y: 0, width: 3000, height: 2000 };
  const colour = (seed: number) => [seed, seed + 1, seed + 2].map((s) => madePlane(rect.width, rect.height, s));
  const [below, top, mask] = [colour(1), colour(4), [madePlane(rect.width, rect.height, 7)]];
  const out = below.map((plane) => plane.slice());
  const copy = shortest(5, () => below.forEach((plane, p) => out[p].set(plane)));
  const strip = 3 * rect.width;
  const part = (planes: readonly Float32Array[], at: number): Raster => ({
    rect: { x: 0, y: at / rect.width, width: rect.width, height: Math.min(3, rect.height - at / rect.width) },
    planes: planes.map((plane) => plane.subarray(at, at + strip)),
  });
  const times = (mode: BlendMode, through: readonly (readonly Float32Array[])[]): number => {
    const lay = blendKernel(mode, 0.8);
    const run = (): void => {
      for (let at = 0; at < out[0].length; at += strip)
        lay(
          [below, top, ...through].map((planes) => part(planes, at)),
          part(out, at),
          nothing,
        );
    };
    return shortest(2, run) / copy;
  };
  const modes = keysOf(BLENDS);
  return {
    ...Object.fromEntries(modes.map((mode) => [mode, times(mode, [])])),
    'normal, masked': times('normal', [mask]),
  };
}

/** What `starless` takes at 24 megapixels with ten thousand stars, in seconds on one core: the list, the taking, the gaps. */
export function starlessTimes(): Record<string, number> {
  const [width, height] = [6000, 4000];
  const { plane } = makeSky({ width, height, seed: 3, stars: 10_000, fwhm: 3, beta: 3, noise: 0.001 });
  const rect = { x: 0, y: 0, width, height };
  const from = performance.now();
  const since = () => (performance.now() - from) / 1000;
  const field = detectStarField(plane, width, height);
  const list = since();
  const { taken, left } = removeStars({
    planes: [plane],
    width,
    height,
    fields: [field],
    stars: field.stars,
  });
  const take = since() - list;
  inpaintCircles(left[0], rect, left[0].slice(), rect, holeCircles(taken), 0);
  return { stars: taken.length, list, take, gaps: since() - list - take, all: since() };
}

/** Six layers, three of them through masks of their own images: what a slider moves in a picture that is nearly done. */
export const SIX: Recipe = {
  ...SEVEN,
  name: 'Six layers, three masks',
  masks: ['Ha', 'OIII', 'L'].map((id) => ({
    id: `${id} bright`,
    of: { strand: id },
    steps: [{ do: 'stretch' }, { do: 'levels', black: 0.2 }, { do: 'blur', radius: 3 }],
  })),
  cloth: {
    layers: [
      ...(SEVEN.cloth?.layers ?? []),
      ...(['soft-light', 'screen', 'luminosity', 'lighten'] as const).map(
        (blend, i): Layer => ({
          id: `sheet ${i}`,
          of: { strand: ['OIII', 'SII', 'L', 'Ha'][i] },
          steps: [{ do: 'stretch' }, ...(blend === 'screen' ? [{ do: 'tint', colour: '#ffb14a' }] : [])],
          blend,
          opacity: 0.4,
          ...(i < 3 && { mask: ['Ha bright', 'OIII bright', 'L bright'][i] }),
        }),
      ),
    ],
    steps: SEVEN.cloth?.steps,
  },
};
