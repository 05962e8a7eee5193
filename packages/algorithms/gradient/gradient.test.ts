import { describe, expect, it } from 'vitest';
import { randomFrom } from '@owl-loom/testing/random';
import { recipeOf, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { measureGradient } from './gradient';
import { modelAt } from './model';
import { placeSampleBoxes } from './samples';

const [width, height] = [600, 420];
const frame = { x: 0, y: 0, width, height };
/** A large bright nebula, off the middle, with lumps in it. */
const nebula = (x: number, y: number) => {
  const r = Math.hypot((x - 350) / 190, (y - 200) / 130);
  return r < 1 ? 0.03 * (1 - r * r) ** 2 * (1 + 0.4 * Math.sin(x / 9) * Math.sin(y / 11)) : 0;
};
const glow = (x: number, y: number) => 0.012 * (x / width) + 0.008 * (y / height) + 0.006 * (x / width) ** 2;

interface Sky {
  readonly gas?: boolean;
  readonly gradient?: boolean;
  readonly seed?: number;
}

function sky({ gas = true, gradient = true, seed = 1 }: Sky = {}): Float32Array {
  const random = randomFrom(seed);
  const out = Float32Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return 0.02 + (gas ? nebula(x, y) : 0) + (gradient ? glow(x, y) : 0) + 0.0008 * random.normal();
  });
  for (let s = 0; s < 150; s++) {
    const [cx, cy, peak] = [width * random.next(), height * random.next(), 0.02 * (1 - random.next()) ** -0.8];
    for (let y = Math.max(0, Math.ceil(cy - 8)); y <= Math.min(height - 1, cy + 8); y++) {
      for (let x = Math.max(0, Math.ceil(cx - 8)); x <= Math.min(width - 1, cx + 8); x++)
        out[y * width + x] += peak * Math.exp(-((x - cx) ** 2 + (y - cy) ** 2) / 4);
    }
  }
  return out;
}

const run = (planes: readonly Float32Array[], step: object = {}) =>
  evaluateRecipe(
    recipeOf([{ id: 'A', from: { stack: 'A' }, steps: [{ do: 'gradient', ...step }] }]),
    { A: { width, height, planes } },
    'strands[0]',
  );

/** Straight-line parts of a picture: how much it leans from side to side, from block means outside the nebula. */
function lean(plane: Float32Array): number {
  const mean = (x0: number, y0: number) => {
    const list: number[] = [];
    for (let y = y0; y < y0 + 40; y++) for (let x = x0; x < x0 + 40; x++) list.push(plane[y * width + x]);
    return list.sort((a, b) => a - b)[list.length >> 1];
  };
  const corners = [mean(5, 5), mean(width - 45, 5), mean(5, height - 45), mean(width - 45, height - 45), mean(60, 190)];
  return Math.max(...corners) - Math.min(...corners);
}
const flux = (plane: Float32Array, base: number) =>
  plane.reduce((s, v, i) => s + (nebula(i % width, Math.floor(i / width)) > 0 ? v - base : 0), 0);

describe('a gradient', () => {
  it.each([{ model: 'spline' }, { model: 'polynomial', degree: 2 }])(
    'goes, to a twentieth of itself, and a large nebula keeps its light (%o)',
    (step) => {
      const before = sky();
      const { raster } = run([before], step);
      const [after] = raster.planes;
      const clean = sky({ gradient: false });
      expect(lean(before)).toBeGreaterThan(0.02);
      expect(lean(after)).toBeLessThan(0.05 * lean(before));
      const level = run([before], step).measured['strands[0].steps[0]'] as { level: number[] };
      expect(Math.abs(flux(after, level.level[0]) / flux(clean, 0.02) - 1)).toBeLessThan(0.05);
    },
  );

  it('that is not there is not made up', () => {
    const clean = sky({ gradient: false });
    const [after] = run([clean]).raster.planes;
    after.forEach((v, i) => expect(Math.abs(v - clean[i])).toBeLessThan(0.0006));
  });

  it('divided out makes a dimmed field even', () => {
    const dimmed = sky({ gradient: false, gas: false }).map((v, i) => v * (1 - 0.4 * (((i % width) - 300) / 300) ** 2));
    const [after] = run([dimmed], { by: 'divide', model: 'polynomial', degree: 2 }).raster.planes;
    expect(lean(after)).toBeLessThan(0.08 * lean(dimmed));
  });

  it('of a colour image is taken out plane by plane, on the same boxes', () => {
    const planes = [1, 2, 3].map((seed) =>
      sky({ seed, gas: seed === 1 }).map((v, i) => v + seed * 0.004 * ((i % width) / width)),
    );
    const { raster, measured } = run(planes);
    for (const [p, plane] of raster.planes.entries()) expect(lean(plane)).toBeLessThan(0.06 * lean(planes[p]) + 0.0004);
    expect((measured['strands[0].steps[0]'] as { level: number[] }).level.length).toBe(3);
  });

  it('on boxes by hand rests on them alone', () => {
    const samples = [
      [60, 60],
      [540, 60],
      [60, 380],
      [540, 380],
      [60, 220],
    ].map(([x, y]) => ({ x, y, size: 40 }));
    const [after] = run([sky()], { samples, model: 'polynomial', degree: 1 }).raster.planes;
    expect(lean(after)).toBeLessThan(0.12 * 0.026);
  });

  it.each([
    [
      {
        samples: [
          { x: 50, y: 50, size: 20 },
          { x: 90, y: 50, size: 20 },
        ],
      },
      /A spline needs at least 3 samples; there are 2/,
    ],
    [{ samples: [{ x: 50, y: 50, size: 20 }], model: 'polynomial' }, /degree 2 needs at least 6 samples; there is 1/],
    [{ samples: [1, 2, 3, 4].map((k) => ({ x: 50 * k, y: 50, size: 20 })) }, /Spline samples must not lie on one line/],
    [{ samples: [{ x: -500, y: 0, size: 20 }] }, /All samples are outside the data/],
  ])('with samples that cannot hold it is refused in one sentence', (step, message) =>
    expect(() => run([sky()], step)).toThrow(message),
  );
});

describe('boxes', () => {
  it('are chosen on the sky, away from the nebula', () => {
    const boxes = placeSampleBoxes(sky(), frame);
    expect(boxes.length).toBeGreaterThan(25);
    for (const box of boxes) expect(nebula(box.x, box.y)).toBeLessThan(0.003);
  });
});

describe('gradients that are no polynomials', () => {
  const glows: Record<string, (u: number, v: number) => number> = {
    'a steep corner': (u, v) => 0.03 * Math.exp(3.2 * (u - 1) + 2.4 * (v - 1)),
    'a town beyond the frame': (u, v) => 0.02 / (1 + 8 * ((u - 1.15) ** 2 + (v + 0.1) ** 2)),
    vignetting: (u, v) => 0.012 * u - 0.01 * (1 - 1 / (1 + 1.2 * ((u - 0.5) ** 2 + (v - 0.5) ** 2)) ** 2),
  };

  it.each(
    Object.keys(glows).flatMap((name) => [[name, 'alone', false] as const, [name, 'with a nebula', true] as const]),
  )('%s, %s, is taken out to a twentieth of itself anywhere, corners and edges included', (name, _, gas) => {
    const of = glows[name];
    const made = sky({ gas, gradient: false, seed: 6 }).map((v, i) => v + of((i % width) / width, i / width / height));
    const raster = { rect: frame, planes: [made] };
    const { planes } = measureGradient(raster, { model: 'spline', degree: 2, smoothing: 1, samples: 'auto' });
    const offs: number[] = [];
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let y = 0; y < height; y += 7) {
      for (let x = 0; x < width; x += 7) {
        const truth = of(x / width, y / height);
        offs.push(modelAt(planes[0].model, x, y) - 0.02 - truth);
        [low, high] = [Math.min(low, truth), Math.max(high, truth)];
      }
    }
    const middle = [...offs].sort((a, b) => a - b)[offs.length >> 1];
    const worst = Math.max(...offs.map((off) => Math.abs(off - middle)));
    expect(worst / (high - low)).toBeLessThan(0.05);
  });
});

describe('a linear glow beside a nebula', () => {
  it('leaves no moat about it: faint outer gas is no sky', () => {
    const [w, h] = [1500, 1000];
    const random = randomFrom(1);
    const [cx, cy] = [0.45 * w, 0.5 * h];
    const gas = (x: number, y: number) => {
      const r2 = (x - cx) ** 2 + (1.2 * (y - cy)) ** 2;
      return 0.05 * Math.exp(-r2 / (2 * 110 ** 2)) + 0.006 * Math.exp(-r2 / (2 * 170 ** 2));
    };
    const plane = Float32Array.from({ length: w * h }, (_, i) => {
      const [x, y] = [i % w, Math.floor(i / w)];
      return 0.0171 + 0.006 * ((0.7 * x) / w + (0.3 * y) / h) + gas(x, y) + 0.0011 * random.normal();
    });
    const stacks = { Ha: { width: w, height: h, planes: [plane] } };
    const [left] = evaluateRecipe(
      recipeOf([{ id: 'Ha', from: { stack: 'Ha' }, steps: [{ do: 'gradient' }] }]),
      stacks,
      'strands[0]',
    ).raster.planes;
    // What is left of the sky, the true gas taken off.
    const skyAt = (from: number, to: number): number => {
      const values: number[] = [];
      for (let y = 0; y < h; y += 2)
        for (let x = 0; x < w; x += 2) {
          const r = Math.hypot(x - cx, 1.2 * (y - cy));
          if (r >= from && r < to) values.push(left[y * w + x] - gas(x, y));
        }
      return values.sort((a, b) => a - b)[values.length >> 1];
    };
    expect(Math.abs(skyAt(250, 350) - skyAt(650, 2000))).toBeLessThan(2.5e-4);
  });
});
