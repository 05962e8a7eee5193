import { readFile } from 'node:fs/promises';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { kernelsModule } from '../../../tools/kernels.mjs';
import { type Affine, compose, IDENTITY } from '../geometry/affine';
import { randomFrom } from '@owl-loom/testing/random';
import { differencePlain, differenceSimd, maskedDifference, validityMask } from './validity';
import { cellMeansPlain, refinePlain } from './cells';
import { cellMeansSimd, refineSimd } from './cells-simd';
import { resamplePlain } from './lanczos';
import { resampleSimd } from './resample-simd';
import { rgbaOf, rgbaPlain } from './rgba';
import { B3, gaussianTaps, smoothPlain } from './smooth';
import { smoothSimd } from './smooth-simd';
import { type WasmKernels, wasmKernels } from './wasm';

const wasm = wasmKernels() as WasmKernels;

/** Noise about 1 with a few bright pixels, and holes where `absent` says. */
function scene(width: number, height: number, seed: number, absent: number): Float32Array {
  const random = randomFrom(seed);
  return Float32Array.from({ length: width * height }, () =>
    random.next() < absent ? Number.NaN : random.next() < 0.02 ? 40 * random.next() : 0.5 + random.next(),
  );
}

/** Both no data, or within single precision of the greatest value near by. */
function expectSame(a: Float32Array, b: Float32Array): void {
  expect(a.length).toBe(b.length);
  let worst = 0;
  let onlyOne = 0;
  for (let i = 0; i < a.length; i++) {
    if (Number.isNaN(a[i]) || Number.isNaN(b[i])) onlyOne += Number.isNaN(a[i]) === Number.isNaN(b[i]) ? 0 : 1;
    else worst = Math.max(worst, Math.abs(a[i] - b[i]));
  }
  expect(onlyOne).toBe(0);
  expect(worst).toBeLessThan(40 * 1e-6);
}

describe('kernels in WebAssembly', () => {
  it('run on this machine', () => expect(wasm).toBeDefined());

  it('are what their source compiles to', async () => {
    expect(await readFile('packages/image/kernels/simd-bytes.ts', 'utf8')).toBe(await kernelsModule());
  });

  it('smooth as the plain ones do, whatever the size, the spacing and the holes', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 70 }),
        fc.integer({ min: 1, max: 40 }),
        fc.constantFrom(1, 2, 4, 8),
        fc.constantFrom(B3, gaussianTaps(0.6), gaussianTaps(2.3)),
        fc.constantFrom(0, 0.02, 0.5, 1),
        fc.nat(999),
        (width, height, step, taps, absent, seed) => {
          const plane = scene(width, height, seed, absent);
          const there = validityMask(plane);
          const wanted = smoothPlain(plane, width, height, taps, step, there);
          expectSame(smoothSimd(wasm, plane, width, height, taps, step, there), wanted);
          // What it takes away, written over the plane itself as well.
          const less = differencePlain(plane, wanted, plane);
          const [apart, own] = [new Float32Array(plane.length), plane.slice()];
          expectSame(smoothSimd(wasm, plane, width, height, taps, step, there, { into: apart, where: plane }), wanted);
          expectSame(smoothSimd(wasm, own, width, height, taps, step, there, { into: own, where: plane }), wanted);
          expectSame(apart, less);
          expectSame(own, less);
        },
      ),
      { numRuns: 200 },
    );
  });

  it('keep a level picture level', () => {
    const flat = new Float32Array(50 * 30).fill(0.37);
    for (const v of smoothSimd(wasm, flat, 50, 30, B3, 4, undefined)) expect(v).toBeCloseTo(0.37, 6);
  });

  it('take cells and make the surface through them as the plain ones do, wherever the window lies', () => {
    const place = fc.integer({ min: -40, max: 40 });
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 70 }),
        fc.integer({ min: 1, max: 40 }),
        place,
        place,
        fc.integer({ min: 2, max: 16 }),
        fc.constantFrom(0, 0.1, 0.9),
        fc.nat(999),
        (width, height, x, y, n, absent, seed) => {
          const rect = { x, y, width, height };
          const plane = scene(width, height, seed, absent);
          const [fast, plain] = [cellMeansSimd(wasm, plane, rect, n), cellMeansPlain(plane, rect, n)];
          expect(fast.rect).toEqual(plain.rect);
          expectSame(fast.values, plain.values);
          const coarse = { ...plain, values: plain.values.map((v) => v || 0) };
          const window = { x: x - (seed % 9), y: y + 3, width: width + 11, height: 20 };
          const surface = refinePlain(coarse, window);
          expectSame(refineSimd(wasm, coarse, window), surface);
          const values = scene(window.width, window.height, seed + 1, 0);
          const where = scene(window.width, window.height, seed + 2, absent);
          const wanted = differencePlain(values, surface, where);
          expectSame(refineSimd(wasm, coarse, window, { into: values, where }), wanted);
          expectSame(values, wanted);
        },
      ),
      { numRuns: 150 },
    );
  });

  it('take differences as the plain ones do, also over more than one piece', () => {
    const [a, b, c] = [1, 2, 3].map((seed) => scene(20_011, 1, seed, 0.05));
    expectSame(differenceSimd(wasm, a, b, c), differencePlain(a, b, c));
    expectSame(
      maskedDifference(a, undefined, c),
      a.map((v, i) => (Number.isNaN(c[i]) ? Number.NaN : v)),
    );
  });

  it('make bytes as the plain ones do, held to their range, and transparent where any plane has a hole', () => {
    const value = fc.oneof(fc.float({ min: -1, max: 2, noNaN: true }), fc.constantFrom(Number.NaN, 0, 1, 2.5, -0.5));
    fc.assert(
      fc.property(fc.array(fc.tuple(value, value, value), { minLength: 1, maxLength: 40 }), (pixels) => {
        const planes = [0, 1, 2].map((p) => Float32Array.from(pixels, (pixel) => pixel[p])) as [
          Float32Array,
          Float32Array,
          Float32Array,
        ];
        const [fast, plain] = [new Uint8ClampedArray(4 * pixels.length), new Uint8ClampedArray(4 * pixels.length)];
        rgbaOf(planes, fast);
        rgbaPlain(planes, plain);
        // In single precision a number half-way between two bytes may fall to the other one.
        fast.forEach((v, i) => expect(Math.abs(v - plain[i])).toBeLessThanOrEqual(i % 4 === 3 ? 0 : 1));
        planes[0].forEach((v, i) => {
          if (Math.abs(((255 * v) % 1) - 0.5) > 1e-3) expect(fast[4 * i]).toBe(plain[4 * i]);
        });
      }),
    );
  });

  it('find the one hole in a plane of any length', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 40_000 }), fc.nat(), (length, at) => {
        const plane = new Float32Array(length).fill(2);
        expect(validityMask(plane)).toBeUndefined();
        plane[at % length] = Number.NaN;
        expect(validityMask(plane)?.indexOf(0)).toBe(at % length);
      }),
    );
  });

  it('resample as the plain ones do, whatever the turn, the mirror, the size and the holes', () => {
    const centre = (map: Affine, width: number, height: number) =>
      compose(compose({ ...IDENTITY, tx: -width / 2, ty: -height / 2 }, map), {
        ...IDENTITY,
        tx: width / 2,
        ty: height / 2,
      });
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 300 }),
        fc.integer({ min: 1, max: 40 }),
        fc.double({ min: 0, max: 360, noNaN: true }),
        fc.double({ min: 0.4, max: 1, noNaN: true }),
        fc.boolean(),
        fc.constantFrom(0, 0.01, 0.4),
        fc.nat(999),
        (width, height, degrees, size, mirrored, absent, seed) => {
          const a = (degrees * Math.PI) / 180;
          const sign = mirrored ? -1 : 1;
          const back = centre(
            {
              xx: sign * size * Math.cos(a),
              xy: -size * Math.sin(a),
              tx: 0.3,
              yx: sign * size * Math.sin(a),
              yy: size * Math.cos(a),
              ty: -0.8,
            },
            width,
            height,
          );
          const source = { x: 3, y: -2, width, height };
          const out = { x: -5, y: 4, width: 280, height: 30 };
          const plane = scene(width, height, seed, absent);
          const [fast, plain] = [new Float32Array(out.width * out.height), new Float32Array(out.width * out.height)];
          resampleSimd(wasm, plane, source, back, fast, out);
          resamplePlain(plane, source, back, plain, out);
          expectSame(fast, plain);
        },
      ),
      { numRuns: 150 },
    );
  });
});
