import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addNoise, randomFrom, scene } from '@owl-loom/testing/random';
import { linearFit } from './linear';

const width = 320;
const height = 240;
const A = 0.004;
const B = 3.2;

/** A target of the scene, and a reference that is `A + B·scene`, each with its own noise. */
function pair(seed: number, targetNoise: number, referenceNoise: number, of = scene(40 + seed, width, height)) {
  return {
    target: addNoise(of, 0, 1, targetNoise, 2 * seed + 1),
    reference: addNoise(of, A, B, referenceNoise, 2 * seed + 2),
    width,
    height,
  };
}

/** How many of its own errors an estimate lies from the truth. */
const pull = (value: number, truth: number, error: number) => Math.abs(value - truth) / error;

describe('a line through the pixels', () => {
  it.each([
    ['equal noise', 0.002, 0.0064],
    ['a noisy target', 0.006, 0.002],
    ['a noisy reference', 0.0005, 0.02],
  ])('is right with %s', (_, targetNoise, referenceNoise) => {
    const fit = linearFit(pair(1, targetNoise, referenceNoise), 'pixels');
    expect(fit.method).toBe('pixels');
    expect(fit.b / B).toBeCloseTo(1, 1.7);
    expect(pull(fit.b, B, fit.bError)).toBeLessThan(4);
    expect(pull(fit.a, A, fit.aError)).toBeLessThan(4);
  });

  it('has errors that are honest: neither too small nor idle', () => {
    const pulls = Array.from({ length: 24 }, (_, i) => {
      const fit = linearFit(pair(i, 0.003, 0.008), 'pixels');
      return pull(fit.b, B, fit.bError);
    });
    expect(Math.max(...pulls)).toBeLessThan(4);
    const rms = Math.sqrt(pulls.reduce((sum, p) => sum + p * p, 0) / pulls.length);
    expect(rms).toBeGreaterThan(0.4);
    expect(rms).toBeLessThan(2);
  });

  it('leaves out stars that are saturated in one', () => {
    const of = scene(3, width, height, { stars: 200 });
    const input = pair(3, 0.001, 0.003, of);
    const ceiling = 0.12;
    input.reference = input.reference.map((v) => Math.min(v, ceiling));
    const fit = linearFit(input, 'pixels');
    expect(pull(fit.b, B, fit.bError)).toBeLessThan(4);
    expect(fit.b / B).toBeCloseTo(1, 1.7);
  });

  it('sees through outliers in a tenth of the pixels', () => {
    const input = pair(4, 0.002, 0.006);
    const random = randomFrom(99);
    for (let i = 0; i < input.target.length; i++) if (random.next() < 0.1) input.target[i] = 0.5 * random.next();
    const fit = linearFit(input);
    expect(fit.method).toBe('pixels');
    expect(fit.b / B).toBeCloseTo(1, 1.7);
    expect(pull(fit.b, B, fit.bError)).toBeLessThan(4);
    expect(fit.rejected).toBeGreaterThan(0.07 * width * height);
  });

  it.each([
    ['brighter', 0.3],
    ['fainter', -0.3],
  ])('is not led astray by a %s patch that one image alone has, a tenth of the picture', (_, by) => {
    const input = pair(11, 0.002, 0.006);
    const random = randomFrom(98);
    for (let i = 0; i < input.target.length / 10; i++) input.target[i] += by * (0.5 + random.next());
    const fit = linearFit(input);
    expect(fit.method).toBe('pixels');
    expect(fit.b / B).toBeCloseTo(1, 1.5);
    expect(pull(fit.b, B, fit.bError)).toBeLessThan(4);
  });

  it('counts no pixel of a border without data', () => {
    const input = pair(5, 0.002, 0.006);
    for (let y = 0; y < height; y++) for (let x = 0; x < 25; x++) input.target[y * width + x] = Number.NaN;
    const fit = linearFit(input, 'pixels');
    expect(fit.used + fit.rejected).toBeLessThanOrEqual((width - 25) * height);
    expect(pull(fit.b, B, fit.bError)).toBeLessThan(4);
  });

  it('commutes with scaling of either image', () => {
    const input = pair(6, 0.002, 0.005);
    const plain = linearFit(input, 'pixels');
    fc.assert(
      fc.property(
        fc.double({ min: 0.2, max: 5, noNaN: true }),
        fc.double({ min: -0.5, max: 0.5, noNaN: true }),
        (scale, shift) => {
          const fit = linearFit({ ...input, target: input.target.map((v) => shift + scale * v) }, 'pixels');
          expect(fit.b * scale).toBeCloseTo(plain.b, 2);
          expect(fit.a + fit.b * shift).toBeCloseTo(plain.a, 3);
        },
      ),
      { numRuns: 12 },
    );
  });

  it('keeps to its region and range', () => {
    const input = pair(7, 0.001, 0.003);
    for (let i = 0; i < (width * height) / 2; i++) input.target[i] = 0.3;
    const fit = linearFit({ ...input, region: { x: 0, y: height / 2, width, height: height / 2 } }, 'pixels');
    expect(fit.b / B).toBeCloseTo(1, 1);
    expect(pull(fit.b, B, fit.bError)).toBeLessThan(4);
    const narrow = linearFit({ ...pair(7, 0.001, 0.003), high: 0.1 }, 'pixels');
    expect(narrow.used + narrow.rejected).toBeLessThan(width * height);
  });

  it('follows a falling line', () => {
    const of = scene(8, width, height);
    const fit = linearFit(
      { target: addNoise(of, 0, 1, 0.001, 1), reference: addNoise(of, 0.5, -2, 0.002, 2), width, height },
      'pixels',
    );
    expect(fit.b).toBeCloseTo(-2, 1);
  });

  it('of noiseless images is exact', () => {
    const of = scene(9, width, height);
    const fit = linearFit({ target: of, reference: of.map((v) => 0.01 + 2 * v), width, height });
    expect(fit.b).toBeCloseTo(2, 5);
    expect(fit.a).toBeCloseTo(0.01, 6);
  });
});

describe('levels', () => {
  it('are taken by auto where two images show different things, and said so', () => {
    const target = addNoise(scene(50, width, height, { stars: 0 }), 0, 1, 0.001, 1);
    const reference = addNoise(scene(51, width, height, { stars: 0 }), 0, 1, 0.001, 2);
    const fit = linearFit({ target, reference, width, height });
    expect(fit.method).toBe('levels');
    expect(fit.correlation).toBeLessThan(0.8);
  });

  it('bring the same distribution in another arrangement onto itself', () => {
    const of = scene(52, width, height, { clouds: 0.05 });
    const target = addNoise(of, 0, 1, 0.001, 3);
    const reference = addNoise(of.slice().reverse(), A, B, 0.001 * B, 4);
    const fit = linearFit({ target, reference, width, height }, 'levels');
    expect(fit.b / B).toBeCloseTo(1, 1);
    expect(pull(fit.b, B, fit.bError)).toBeLessThan(4);
  });

  it('take unequal noise off before they compare', () => {
    const of = scene(53, width, height, { clouds: 0.06 });
    const fit = linearFit(
      {
        target: addNoise(of, 0, 1, 0.008, 5),
        reference: addNoise(of.slice().reverse(), 0, 1, 0.0005, 6),
        width,
        height,
      },
      'levels',
    );
    expect(fit.b).toBeCloseTo(1, 0.7);
  });
});

describe('what cannot be fitted', () => {
  const good = scene(60, 64, 64);
  const flat = new Float32Array(64 * 64).fill(0.2);
  const none = new Float32Array(64 * 64).fill(Number.NaN);
  it.each([
    ['a constant target', flat, good, /The image is constant in this region/],
    ['a constant reference', good, flat, /The reference is constant in this region/],
    ['no data', none, good, /Only 0 usable pixels in common \(finite/],
  ])('%s gets one sentence', (_, target, reference, message) => {
    expect(() => linearFit({ target, reference, width: 64, height: 64 })).toThrow(message);
  });
});
