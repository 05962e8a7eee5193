import { starlet, starletMargin } from '@owl-loom/image/scales/starlet';
import { implementStep } from './step-implementation';
import { neighbourhoodKernel } from './neighbourhood';
import { structures as spec } from '@owl-loom/recipe/steps/structures';

/** The starlet scale whose structures are about so many pixels wide. */
const scaleOf = (size: number): number => Math.max(1, Math.round(Math.log2(size)));

/** The widest scale: beyond it a scale spans more than any picture. */
const WIDEST = 11;

/** Keeps the starlet scales of structures from `from` to `to` full-size pixels, and what is wider still where `residual` is set. */
export const structuresStep = implementStep(spec, {
  version: 1,
  build: (p, { input }) => {
    const first = scaleOf(p.from);
    const last = Math.min(WIDEST, Math.max(first, scaleOf(p.to)));
    return {
      kernel: neighbourhoodKernel(
        input.extent,
        (level) => starletMargin(Math.max(0, last - level)),
        (_, level) => (plane, rect, window) => {
          // A level's pixels hold nothing finer than themselves: its scale j is the full size's j + level.
          const parts = starlet(plane, rect, Math.max(0, last - level), window);
          const kept = parts.filter((_scale, k) => (k < parts.length - 1 ? k + 1 + level >= first : p.residual));
          const out = new Float32Array(window.width * window.height);
          const there = parts[parts.length - 1];
          for (let i = 0; i < out.length; i++) {
            let sum = there[i] === there[i] ? 0 : Number.NaN;
            for (const part of kept) sum += part[i];
            out[i] = sum;
          }
          return out;
        },
      ),
      figures: [],
      planes: input.planes,
      extent: input.extent,
    };
  },
});
