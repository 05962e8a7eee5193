import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Affine, compose, invertAffine, mapPoint } from '../geometry/affine';
import { randomFrom } from '@owl-loom/testing/random';
import { mono, recipeOf, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { copyPixelAligned, resample } from './lanczos';

const rect = (width: number, height: number) => ({ x: 0, y: 0, width, height });
const turned = (degrees: number, tx: number, ty: number, size = 1): Affine => {
  const a = (degrees * Math.PI) / 180;
  return { xx: size * Math.cos(a), xy: -size * Math.sin(a), tx, yx: size * Math.sin(a), yy: size * Math.cos(a), ty };
};
const [w, h] = [90, 70];
const noise = randomFrom(6);
const rough = Float32Array.from({ length: w * h }, () => noise.next());
/** A smooth scene, as a function of place, so that it is known between the pixels. */
const smooth = (x: number, y: number) =>
  0.4 + 0.2 * Math.sin(x / 5) * Math.cos(y / 7) + 0.3 * Math.exp(-((x - 40) ** 2 + (y - 33) ** 2) / 18);
const sampled = Float32Array.from({ length: w * h }, (_, i) => smooth(i % w, Math.floor(i / w)));

describe('Lanczos resampling', () => {
  it('by nothing changes nothing', () => {
    const out = new Float32Array(w * h);
    resample(rough, rect(w, h), turned(0, 0, 0), out, rect(w, h));
    out.forEach((v, i) => expect(v).toBeCloseTo(rough[i], 6));
  });

  it('gives a smooth scene its values between the pixels', () => {
    const back = turned(13.7, 14.3, -2.6);
    const out = new Float32Array(w * h);
    resample(sampled, rect(w, h), back, out, rect(w, h));
    let worst = 0;
    for (let y = 0; y < h; y++) {
      for (let x = 0; x < w; x++) {
        const [u, v] = mapPoint(back, x, y);
        if (u > 3 && v > 3 && u < w - 4 && v < h - 4) worst = Math.max(worst, Math.abs(out[y * w + x] - smooth(u, v)));
      }
    }
    expect(worst).toBeLessThan(0.012);
  });

  it('never leaves the range of the pixels around', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 360, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.integer({ min: 0, max: 99 }),
        (degrees, shift, seed) => {
          const random = randomFrom(seed);
          const plane = Float32Array.from({ length: 20 * 20 }, () => (random.next() < 0.1 ? 1 : 0.1));
          const out = new Float32Array(400);
          const back = compose(turned(0, -9.5, -9.5), compose(turned(degrees, 0, 0), turned(0, 9.5 + shift, 9.5)));
          resample(plane, rect(20, 20), back, out, rect(20, 20));
          for (const v of out) if (v === v) expect(v >= Math.fround(0.1) && v <= 1).toBe(true);
        },
      ),
    );
  });

  it('commutes with a + b·x', () => {
    const back = turned(31, 20, -15);
    const [plain, moved] = [new Float32Array(w * h), new Float32Array(w * h)];
    resample(rough, rect(w, h), back, plain, rect(w, h));
    resample(
      rough.map((v) => 0.25 + 1.5 * v),
      rect(w, h),
      back,
      moved,
      rect(w, h),
    );
    plain.forEach((v, i) => (v === v ? expect(moved[i]).toBeCloseTo(0.25 + 1.5 * v, 5) : expect(moved[i]).toBeNaN()));
  });

  it('has no data where the nearest pixel has none, and is not spoilt by holes nearby', () => {
    const plane = new Float32Array(400).fill(0.5);
    plane[10 * 20 + 10] = Number.NaN;
    const out = new Float32Array(400);
    resample(plane, rect(20, 20), turned(0, 0.3, 0), out, rect(20, 20));
    expect(out[10 * 20 + 10]).toBeNaN();
    expect(out.filter((v) => v !== v).length).toBe(1);
    for (const v of out) if (v === v) expect(v).toBeCloseTo(0.5, 6);
    resample(plane, rect(20, 20), turned(0, 4.6, 0), out, rect(20, 20));
    expect([...out.subarray(0, 20)].map((v) => v === v)).toEqual(
      Array.from({ length: 20 }, (_, x) => Math.round(x + 4.6) < 20),
    );
  });

  it('to half the size averages what is finer', () => {
    const plane = Float32Array.from({ length: 40 * 40 }, (_, i) => ((i + Math.floor(i / 40)) % 2 === 0 ? 1 : 0));
    const out = new Float32Array(100);
    resample(plane, rect(40, 40), { xx: 2, xy: 0, tx: 10.5, yx: 0, yy: 2, ty: 10.5 }, out, rect(10, 10));
    for (const v of out) expect(v).toBeCloseTo(0.5, 2);
  });

  it('by whole pixels is a copy', () => {
    const back: Affine = { xx: 0, xy: 1, tx: -3, yx: -1, yy: 0, ty: 68 };
    const [a, b] = [new Float32Array(w * h), new Float32Array(w * h)];
    copyPixelAligned(rough, rect(w, h), back, a, rect(w, h));
    resample(rough, rect(w, h), back, b, rect(w, h));
    a.forEach((v, i) => (v === v ? expect(b[i]).toBeCloseTo(v, 6) : expect(b[i]).toBeNaN()));
  });
});

describe('moves of one strand', () => {
  const stack = mono(w, h, (x, y) => smooth(x, y));
  const done = (steps: { do: string; [key: string]: unknown }[]) =>
    evaluateRecipe(recipeOf([{ id: 'A', from: { stack: 'A' }, steps }]), { A: stack }, 'strands[0]').raster.planes[0];

  it('are made in one resampling, with plain arithmetic between them', () => {
    const half = { do: 'place', degrees: 20 };
    const undone = done([half, { do: 'scale', multiply: 2, add: 0.1 }, { do: 'place', degrees: -20 }]);
    // Two resamplings would have blurred the picture; one by nothing leaves it as it was.
    undone.forEach((v, i) => expect(v).toBeCloseTo(2 * sampled[i] + 0.1, 5));
  });

  it('that are undone in part keep to their share', () => {
    const part = done([
      { do: 'place', degrees: 20 },
      { do: 'scale', multiply: 3, opacity: 0.5 },
      { do: 'place', degrees: -20 },
    ]);
    part.forEach((v, i) => expect(v).toBeCloseTo(2 * sampled[i], 5));
  });

  it('turn about the middle, counter-clockwise as seen, and shift right and up', () => {
    const small = { A: mono(41, 41, (x, y) => (x === 30 && y === 20 ? 1 : 0)) };
    const at = (steps: { do: string; [key: string]: unknown }[]) => {
      const { planes } = evaluateRecipe(
        recipeOf([{ id: 'A', from: { stack: 'A' }, steps }]),
        small,
        'strands[0]',
      ).raster;
      const i = planes[0].reduce((best, v, k) => (v > (planes[0][best] || 0) ? k : best), 0);
      return [i % 41, Math.floor(i / 41)];
    };
    expect(at([{ do: 'place', degrees: 90 }])).toEqual([20, 30]);
    expect(at([{ do: 'place', degrees: 30, size: 1.5 }])).toEqual([33, 28]);
    expect(at([{ do: 'place', dx: 3.25, dy: -2.25 }])).toEqual([33, 18]);
    expect(at([{ do: 'place', turn: 90, flip: 'horizontal', degrees: 90 }])).toEqual([10, 20]);
  });

  it('are refused where they would squash the picture', () => {
    expect(() => done([{ do: 'align', to: 'A', hold: { matrix: [1, 2, 0, 2, 4, 0] } }])).toThrow(
      /singular|uses itself/,
    );
  });

  it('held to a matrix are that map', () => {
    const held = turned(5, 2.5, -1.5);
    const recipe = recipeOf([
      { id: 'A', from: { stack: 'A' } },
      {
        id: 'B',
        from: { stack: 'A' },
        steps: [{ do: 'align', to: 'A', hold: { matrix: [held.xx, held.xy, held.tx, held.yx, held.yy, held.ty] } }],
      },
    ]);
    const { raster } = evaluateRecipe(recipe, { A: stack }, 'strands[1]');
    const out = new Float32Array(w * h);
    resample(sampled, rect(w, h), invertAffine(held), out, rect(w, h));
    raster.planes[0].forEach((v, i) => (out[i] === out[i] ? expect(v).toBeCloseTo(out[i], 5) : expect(v).toBeNaN()));
  });
});
