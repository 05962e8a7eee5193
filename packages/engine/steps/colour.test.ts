import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hueDistance, oklchOf } from '@owl-loom/algorithms/colour/oklch';
import { srgbToLinear } from '@owl-loom/algorithms/colour/srgb';
import { randomFrom } from '@owl-loom/testing/random';
import { recipeOf, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import type { Step } from '@owl-loom/recipe/schema';

const [width, height] = [48, 32];

/** Colours about the middle of the scale, some of them beyond its ends, one pixel without data. */
function picture(seed: number): TestStack {
  const random = randomFrom(seed);
  const planes = [0, 1, 2].map(() => Float32Array.from({ length: width * height }, () => 1.2 * random.next() - 0.1));
  planes[1][7] = Number.NaN;
  return { width, height, planes, domain: 'stretched' };
}

const run = (stack: TestStack, ...steps: Step[]) =>
  evaluateRecipe(recipeOf([{ id: 'P', from: { stack: 'P' }, steps }]), { P: stack }, 'strands[0]').raster.planes;

/** Every pixel that has data, as it was and as it is. */
function eachPixel(before: TestStack, after: readonly Float32Array[], deed: (x: number[], y: number[]) => void): void {
  for (let i = 0; i < width * height; i++) {
    const [x, y] = [before.planes, after].map((planes) => planes.map((plane) => plane[i]));
    if (x.every((v) => v === v)) deed(x, y);
    else expect(y[1]).toBeNaN();
  }
}

describe('cap', () => {
  it.each([
    ['green', 'mean', (r: number, g: number, b: number) => Math.min(g, (r + b) / 2)],
    ['green', 'greater', (r: number, g: number, b: number) => Math.min(g, Math.max(r, b))],
    // The same on the inverse.
    ['magenta', 'mean', (r: number, g: number, b: number) => 1 - Math.min(1 - g, (1 - r + 1 - b) / 2)],
    ['magenta', 'greater', (r: number, g: number, b: number) => 1 - Math.min(1 - g, Math.max(1 - r, 1 - b))],
  ] as const)('holds %s to the %s of the others, in part where asked', (colour, against, capped) => {
    fc.assert(
      fc.property(fc.nat(999), fc.double({ min: 0, max: 1, noNaN: true }), (seed, strength) => {
        const stack = picture(seed);
        eachPixel(stack, run(stack, { do: 'cap', colour, against, strength }), ([r, g, b], y) => {
          expect([y[0], y[2]]).toEqual([r, b]);
          expect(y[1]).toBeCloseTo(g + strength * (capped(r, g, b) - g), 6);
        });
      }),
      { numRuns: 20 },
    );
  });
});

describe('balance', () => {
  const triple = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -0.3, max: 0.3, noNaN: true })));

  it('adds a colour to shadows, middle and lights by the square law, and keeps the luminance where asked', () => {
    fc.assert(
      fc.property(fc.nat(999), triple, triple, triple, fc.boolean(), (seed, shadows, mids, lights, keepLuminance) => {
        const stack = picture(seed);
        const luminance = (c: number[]) => 0.2126 * c[0] + 0.7152 * c[1] + 0.0722 * c[2];
        const step = { do: 'balance', shadows, mids, lights, keepLuminance };
        eachPixel(stack, run(stack, step), (x, y) => {
          const t = Math.min(1, Math.max(0, luminance(x)));
          const plain = x.map((v, p) => v + (1 - t) ** 2 * shadows[p] + 2 * t * (1 - t) * mids[p] + t * t * lights[p]);
          const off = keepLuminance ? luminance(plain) - luminance(x) : 0;
          plain.forEach((v, p) => expect(y[p]).toBeCloseTo(v - off, 5));
        });
      }),
      { numRuns: 30 },
    );
  });
});

describe('sharpen', () => {
  /** A bright star-like hill on an even ground. */
  const hill: TestStack = {
    width: 64,
    height: 64,
    planes: [
      Float32Array.from({ length: 64 * 64 }, (_, i) => {
        const r2 = ((i % 64) - 31) ** 2 + (Math.floor(i / 64) - 31) ** 2;
        return 0.2 + 0.6 * Math.exp(-r2 / 18);
      }),
    ],
  };

  it('adds what a Gaussian takes out: of a Gaussian hill that is known', () => {
    const [plane] = run(hill, { do: 'sharpen', radius: 2, amount: 0.8 });
    // Of σ² 9 smoothed by σ² 4: of σ² 13, as much lower as it is wider.
    for (let i = 0; i < plane.length; i++) {
      const r2 = ((i % 64) - 31) ** 2 + (Math.floor(i / 64) - 31) ** 2;
      const [own, soft] = [0.6 * Math.exp(-r2 / 18), 0.6 * (9 / 13) * Math.exp(-r2 / 26)];
      expect(Math.abs(plane[i] - (0.2 + own + 0.8 * (own - soft)))).toBeLessThan(2e-3);
    }
  });

  it('with its halo held back darkens nothing below what lies around, and half of that by half', () => {
    const [plain] = run(hill, { do: 'sharpen', radius: 2, amount: 2 });
    const [held] = run(hill, { do: 'sharpen', radius: 2, amount: 2, halo: 1 });
    const [half] = run(hill, { do: 'sharpen', radius: 2, amount: 2, halo: 0.5 });
    expect(Math.min(...plain)).toBeLessThan(0.19);
    expect(Math.min(...held)).toBeGreaterThan(0.1999);
    half.forEach((v, i) => expect(v).toBeCloseTo((plain[i] + held[i]) / 2, 6));
    const own = hill.planes[0];
    for (let y = 6; y < 58; y++) {
      for (let x = 6; x < 58; x++) {
        let min = Number.POSITIVE_INFINITY;
        for (let j = -6; j <= 6; j++)
          for (let i = -6; i <= 6; i++) if (i * i + j * j <= 36) min = Math.min(min, own[(y + j) * 64 + x + i]);
        expect(held[y * 64 + x]).toBeCloseTo(Math.max(plain[y * 64 + x], min), 6);
      }
    }
  });

  it('of a wide radius holds rings back by the least of what lies around, to within a cell, and in no time', () => {
    const [w, h] = [700, 500];
    const random = randomFrom(3);
    const plane = Float32Array.from({ length: w * h }, (_, i) => {
      const r2 = ((i % w) - 350) ** 2 + (Math.floor(i / w) - 250) ** 2;
      return 0.2 + 0.0004 * Math.abs((i % w) - 350) + 0.01 * random.next() + (r2 < 3600 ? 0.5 : 0);
    });
    const stack: TestStack = { width: w, height: h, planes: [plane] };
    const step = { do: 'sharpen', radius: 40, amount: 3 };
    const [[plain], [held]] = [run(stack, step), run(stack, { ...step, halo: 1 })];
    // The disc of 120 pixels, and cells of 4: between those of 116 and 124.
    for (const [x, y] of [
      [430, 250],
      [350, 160],
      [285, 310],
    ]) {
      const within = (radius: number) => {
        let min = Number.POSITIVE_INFINITY;
        for (let j = Math.max(0, y - radius); j <= Math.min(h - 1, y + radius); j++)
          for (let i = Math.max(0, x - radius); i <= Math.min(w - 1, x + radius); i++)
            if ((i - x) ** 2 + (j - y) ** 2 <= radius ** 2) min = Math.min(min, plane[j * w + i]);
        return min;
      };
      expect(plain[y * w + x]).toBeLessThan(within(116));
      expect(held[y * w + x]).toBeGreaterThanOrEqual(within(127) - 1e-6);
      expect(held[y * w + x]).toBeLessThanOrEqual(within(113) + 1e-6);
    }
  });

  it('on the luminance of a colour image shifts all planes alike', () => {
    const planes = [0.9, 0.5, 0.7].map((by) => hill.planes[0].map((v, i) => by * v + 0.01 * Math.sin(i / 9)));
    const stack: TestStack = { ...hill, planes };
    const after = run(stack, { do: 'sharpen', radius: 2, amount: 0.7 });
    const luminance = planes[0].map((_, i) => 0.2126 * planes[0][i] + 0.7152 * planes[1][i] + 0.0722 * planes[2][i]);
    const [mono] = run({ ...hill, planes: [luminance] }, { do: 'sharpen', radius: 2, amount: 0.7 });
    after.forEach((plane, p) =>
      plane.forEach((v, i) => expect(v - planes[p][i]).toBeCloseTo(mono[i] - luminance[i], 5)),
    );
  });
});

describe('curves', () => {
  const held = (v: number) => Math.min(1, Math.max(0, v));
  const line = (from: number, to: number) => [
    [0, from],
    [1, to],
  ];

  it('bend all planes, then each by its own, held to 0–1', () => {
    const stack = picture(11);
    const step = { do: 'curves', all: line(0.2, 0.9), green: line(1, 0) };
    eachPixel(stack, run(stack, step), (x, y) => {
      const all = x.map((v) => 0.2 + 0.7 * held(v));
      [all[0], 1 - all[1], all[2]].forEach((v, p) => expect(y[p]).toBeCloseTo(v, 6));
    });
  });

  it('of luminance shift all planes by what becomes of it', () => {
    const stack = picture(12);
    eachPixel(stack, run(stack, { do: 'curves', luminance: line(0.1, 0.7) }), (x, y) => {
      const luminance = held(0.2126 * x[0] + 0.7152 * x[1] + 0.0722 * x[2]);
      const by = 0.1 + 0.6 * luminance - luminance;
      x.forEach((v, p) => expect(y[p]).toBeCloseTo(v + by, 5));
    });
  });

  it('of chroma bring colours to where the line says, their hue and lightness as they were', () => {
    const random = randomFrom(13);
    const planes = [0, 1, 2].map(() => Float32Array.from({ length: width * height }, () => 0.2 + 0.5 * random.next()));
    const stack: TestStack = { width, height, planes, domain: 'stretched' };
    eachPixel(stack, run(stack, { do: 'curves', chroma: line(0, 0.5) }), (x, y) => {
      const of = (c: number[]) => oklchOf([srgbToLinear(c[0]), srgbToLinear(c[1]), srgbToLinear(c[2])]);
      const [[l, c, h], [l2, c2, h2]] = [of(x), of(y)];
      expect(l2).toBeCloseTo(l, 4);
      expect(c2).toBeCloseTo(c / 2, 4);
      if (c > 0.02) expect(hueDistance(h, h2)).toBeLessThan(0.5);
    });
  });

  it('without points change nothing', () => {
    const stack = picture(14);
    expect(run(stack, { do: 'curves' })).toEqual(stack.planes);
  });

  it.each([
    [
      {
        all: [
          [0, 0],
          [0.5, 0.2],
          [0.5, 0.6],
        ],
      },
      false,
      /Two points of the curve are at 0\.5/,
    ],
    [{ red: line(0, 1) }, true, /A mono image has no curve for red/],
  ])('that cannot be are refused in one sentence', (own, isMono, message) => {
    const { planes, ...rest } = picture(15);
    const stack = { ...rest, planes: isMono ? planes.slice(0, 1) : planes };
    expect(() => run(stack, { do: 'curves', ...own })).toThrow(message);
  });
});

describe('families of hues in a recipe', () => {
  it('go one after the other, each on what the one before has left', () => {
    const stack = picture(4);
    const first = { centre: 30, width: 80, soft: 30, turn: 70 };
    const second = { centre: 100, width: 80, soft: 30, chroma: 0.3, shift: [0.02, 0, 0] };
    const together = run(stack, { do: 'hue-bands', bands: [first, second] });
    const apart = run(stack, { do: 'hue-bands', bands: [first] }, { do: 'hue-bands', bands: [second] });
    expect(together).toEqual(apart);
    const swapped = run(stack, { do: 'hue-bands', bands: [second, first] });
    expect(swapped).not.toEqual(together);
  });

  it('without any change nothing', () => {
    const stack = picture(5);
    expect(run(stack, { do: 'hue-bands', bands: [] })).toEqual(stack.planes);
  });
});
