import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { weightedSum, weighPlain, weightedSumOfValid, weighPresentPlain } from '@owl-loom/image/kernels/weighted-sum';
import { octaveTable } from './table';
import { type StretchCurve, stretchHue, stretchHuePlain, stretchPlain, stretchPlane } from './curves';

const value = fc.oneof(
  { weight: 12, arbitrary: fc.double({ min: -0.3, max: 1.4, noNaN: true }) },
  { weight: 2, arbitrary: fc.double({ min: 0, max: 1e-5, noNaN: true }) },
  { weight: 1, arbitrary: fc.constant(Number.NaN) },
);
const plane = fc.array(value, { minLength: 1, maxLength: 45 }).map((values) => Float32Array.from(values));
const curve = fc.constantFrom<StretchCurve>('asinh', 'log', 'power', 'midtone');

/** A strength that the curve can have. */
const strengthOf = (which: StretchCurve, t: number): number =>
  which === 'midtone' ? 0.01 + 0.98 * t : which === 'power' ? 0.05 + 3 * t : 10 ** (8 * t - 4);

function expectNear(found: Float32Array, wanted: Float32Array, within: number): void {
  for (let i = 0; i < wanted.length; i++) {
    if (Number.isNaN(wanted[i])) expect(found[i]).toBeNaN();
    else expect(Math.abs(found[i] - wanted[i])).toBeLessThan(within);
  }
}

describe('stretches in the kernels', () => {
  it('are those of plain arithmetic to a few parts in ten million, at any strength', () => {
    fc.assert(
      fc.property(plane, curve, fc.double({ min: 0, max: 1, noNaN: true }), (from, which, t) => {
        const [a, b] = [new Float32Array(from.length), new Float32Array(from.length)];
        stretchPlane(which, strengthOf(which, t), 0.03, 0.9, from, a);
        stretchPlain(which, strengthOf(which, t), 0.03, 0.9, from, b);
        expectNear(a, b, 6e-7);
      }),
      { numRuns: 400 },
    );
  });

  it('take black to 0 and white to 1, to the last digit', () => {
    for (const which of ['asinh', 'log', 'power', 'midtone'] as const) {
      const out = new Float32Array(4);
      stretchPlane(which, strengthOf(which, 0.4), 0.25, 0.75, Float32Array.of(0.25, 0.75, -9, 9), out);
      expect([...out]).toEqual([0, 1, 0, 1]);
    }
  });

  it('that keep the hue are those of plain arithmetic', () => {
    const three = fc
      .integer({ min: 1, max: 30 })
      .chain((n) => fc.array(fc.array(value, { minLength: n, maxLength: n }), { minLength: 3, maxLength: 3 }));
    fc.assert(
      fc.property(three, curve, fc.double({ min: 0, max: 1, noNaN: true }), (lists, which, t) => {
        const from = lists.map((list) => Float32Array.from(list));
        const make = () => from.map((list) => new Float32Array(list.length));
        const [a, b] = [make(), make()];
        const ends = [
          [0.01, 0.02, 0.03],
          [0.9, 1, 1.1],
        ] as const;
        stretchHue(which, strengthOf(which, t), ...ends, from, a);
        stretchHuePlain(which, strengthOf(which, t), ...ends, from, b);
        for (let p = 0; p < 3; p++) expectNear(a[p], b[p], 3e-6);
      }),
      { numRuns: 300 },
    );
  });
});

describe('weighted sums in the kernels', () => {
  it('are those of plain arithmetic, and say whether there is a hole', () => {
    const planes = fc
      .tuple(fc.integer({ min: 1, max: 9 }), fc.integer({ min: 1, max: 21 }))
      .chain(([count, n]) =>
        fc.array(fc.array(value, { minLength: n, maxLength: n }), { minLength: count, maxLength: count }),
      );
    fc.assert(
      fc.property(planes, fc.infiniteStream(fc.double({ min: -3, max: 3, noNaN: true })), (lists, numbers) => {
        const from = lists.map((list) => Float32Array.from(list));
        const factors = from.map(() => numbers.next().value as number);
        const [a, b] = [new Float32Array(from[0].length), new Float32Array(from[0].length)];
        expect(weightedSum(from, factors, 0.2, a)).toBe(weighPlain(from, factors, 0.2, b));
        expectNear(a, b, 1e-5);
      }),
      { numRuns: 300 },
    );
  });

  it('of planes longer than are brought at a time are whole', () => {
    const long = Float32Array.from({ length: 20_003 }, (_, i) => i);
    const out = new Float32Array(long.length);
    expect(weightedSum([long, long], [1, -0.5], 1, out)).toBe(false);
    expect(out[20_002]).toBe(10_002);
    expect(out[8192]).toBe(4097);
  });
});

describe('sums over what is there', () => {
  it('are those of plain arithmetic, with their marks', () => {
    const planes = fc
      .tuple(fc.integer({ min: 1, max: 6 }), fc.integer({ min: 1, max: 21 }))
      .chain(([count, n]) =>
        fc.array(fc.array(value, { minLength: n, maxLength: n }), { minLength: count, maxLength: count }),
      );
    fc.assert(
      fc.property(
        planes,
        fc.boolean(),
        fc.infiniteStream(fc.double({ min: 0.1, max: 3, noNaN: true })),
        (lists, share, numbers) => {
          const from = lists.map((list) => Float32Array.from(list));
          const next = () => numbers.next().value as number;
          const parts = from.map(() => ({ factor: next(), add: next() - 1, weight: next() }));
          const [a, b, marksA, marksB] = Array.from({ length: 4 }, () => new Float32Array(from[0].length));
          // Some were marked by a plane before.
          for (let i = 0; i < marksA.length; i += 3) marksA[i] = marksB[i] = 1;
          const marked = weightedSumOfValid(from, parts, share, a, () => marksA);
          expect(weighPresentPlain(from, parts, share, b, () => marksB)).toBe(marked);
          expectNear(a, b, 2e-5);
          expect(marksA).toEqual(marksB);
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('a curve as pieces of straight line', () => {
  it('is the curve to 5e-8 where it bends as logarithms do, and its line below', () => {
    for (const s of [0.5, 7, 300, 1e6]) {
      const f = (t: number) => Math.log1p(s * t) / Math.log1p(s);
      const table = octaveTable(f, 2 ** -20 / s);
      const [first, last] = new Uint32Array(table.buffer, 0, 2);
      const at = (t: number) => {
        const piece = Math.max(0, Math.min(last, (new Uint32Array(Float32Array.of(t).buffer)[0] >>> 13) - first));
        return table[2 + 2 * piece] + table[3 + 2 * piece] * t;
      };
      for (let k = 0; k <= 3000; k++) {
        const t = Math.fround(10 ** (-k / 200));
        expect(Math.abs(at(t) - f(t))).toBeLessThan(1.2e-7);
        expect(Math.abs(at(t) / f(t) - 1)).toBeLessThan(2e-6);
      }
      expect([at(0), at(1)]).toEqual([0, 1]);
    }
  });

  it('is made anew where the room for tables has been given to others', () => {
    const strengths = Array.from({ length: 40 }, (_, k) => 1e8 * (k + 1));
    for (const s of [...strengths, ...strengths]) {
      const out = new Float32Array(3);
      stretchPlane('asinh', s, 0, 1, Float32Array.of(1e-6, 0.01, 0.7), out);
      const wanted = [1e-6, 0.01, 0.7].map((t) => Math.asinh(s * Math.fround(t)) / Math.asinh(s));
      wanted.forEach((v, i) => expect(out[i]).toBeCloseTo(v, 6));
    }
  });
});
