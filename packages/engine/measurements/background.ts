import { rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { type PlaneBackground, measureBackground } from '@owl-loom/image/stats/background';
import { defineMeasurement } from './kind';

/** Sky, noise and range of an image; sky and noise of a region where one is given. */
export interface ToneSpec {
  readonly kind: 'tone';
  readonly nodes: readonly [number];
  readonly region?: Rect;
}

export interface Background {
  readonly kind: 'tone';
  readonly planes: readonly PlaneBackground[];
}

/** The 0.1 % and 99.9 % quantiles of white noise, in σ. */
const TAIL = 3.09;

export const backgroundKind = defineMeasurement<ToneSpec, Background>({
  kind: 'tone',
  called: 'sky and noise of',
  version: 2,
  grid: 'frame',
  planes: 'apart',
  measure: ({ spec, images: [image], level }) => {
    const region = spec.region ? rectAtLevel(spec.region, level) : undefined;
    const planes = image.planes.map((plane) => {
      const found = measureBackground(plane, image.rect, region);
      if (level === 0) return found;
      // Averaging has drawn the noise in, and the tails with it.
      const noise = found.noise * 2 ** level;
      return {
        ...found,
        noise,
        low: Math.min(found.low, found.sky - TAIL * noise),
        high: Math.max(found.high, found.sky + TAIL * noise),
      };
    });
    return { kind: 'tone', planes };
  },
  // Upside down, other pixels would be the bright ones that do not count for the spread.
  propagateLinear: ({ planes }, { a, b }) => {
    if (b.some((by) => !(by > 0))) return undefined;
    return {
      kind: 'tone',
      planes: planes.map((t, p) => {
        const [add, by] = [a[p % a.length], b[p % b.length]];
        const at = (v: number) => add + by * v;
        const { sky, noise, low, high, spread } = t;
        return { ...t, sky: at(sky), noise: by * noise, low: at(low), high: at(high), spread: by * spread };
      }),
    };
  },
});
