import type { PlaneTone } from '../stats/tone';
import type { Apply } from '../engine/kernel';
import { weigh } from '../kernels/weigh';

/** Weight of an image by what it shows: (spread of its signal / its noise)², the mean over its planes. */
export function signalWeight(tones: readonly PlaneTone[]): number {
  const squares = tones.map((t) => (t.noise > 0 ? (t.spread / t.noise) ** 2 : Number.NaN)).filter(Number.isFinite);
  return squares.reduce((sum, s) => sum + s, 0) / squares.length;
}

/** Weights as shares of 1; equal ones where the figures say nothing usable. */
export function shares(weights: readonly number[]): number[] {
  const usable = weights.every((w) => Number.isFinite(w) && w > 0);
  const total = weights.reduce((sum, w) => sum + w, 0);
  return weights.map((w) => (usable ? w / total : 1 / weights.length));
}

/** The weighted mean of images of as many planes, pixel by pixel over those that have data there. */
export function averageKernel(weights: readonly number[]): Apply {
  const total = weights.reduce((sum, w) => sum + w, 0);
  const factors = weights.map((w) => w / total);
  return (inputs, out, tally) => {
    // 1 where some inputs have no data, 2 where all have none, once there is such a pixel.
    let partly: Uint8Array | undefined;
    out.planes.forEach((target, p) => {
      const planes = inputs.map((input) => input.planes[input.planes.length === 3 ? p : 0]);
      if (!weigh(planes, factors, 0, target)) return;
      partly ??= new Uint8Array(target.length);
      const marks = partly;
      for (let i = 0; i < target.length; i++) {
        if (target[i] === target[i]) continue;
        target[i] = present(planes, weights, i);
        marks[i] |= target[i] === target[i] ? 1 : 2;
      }
    });
    const count = partly?.reduce((sum, mark) => sum + (mark === 1 ? 1 : 0), 0) ?? 0;
    if (count) tally('partly-covered', count);
  };
}

/** The mean over the images that have data at pixel `i`; NaN where none has. */
function present(planes: readonly Float32Array[], weights: readonly number[], i: number): number {
  let sum = 0;
  let weight = 0;
  planes.forEach((plane, k) => {
    const x = plane[i];
    if (x !== x) return;
    sum += weights[k] * x;
    weight += weights[k];
  });
  return weight > 0 ? sum / weight : Number.NaN;
}
