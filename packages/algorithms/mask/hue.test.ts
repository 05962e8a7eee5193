import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { hueDistance, linearToOklab, oklchOf } from '../colour/oklch';
import { srgbToLinear } from '../colour/srgb';
import { graphOf, mono, recipeOf, strand, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { type HueRange, hueMembership } from '../colour/hue-membership';
import { randomFrom } from '@owl-loom/testing/random';
import { labPlanesPlain } from '../colour/oklab-planes';
import { hueMembershipPlane, hueSharesPlain } from './hue';

const unit = fc.double({ min: 0, max: 1, noNaN: true });
const angle = fc.double({ min: 0, max: 360, noNaN: true });
const range = { centre: 40, width: 60, soft: 20, chroma: 0.06 };
const hueShare = (a: number, b: number, of: HueRange) => hueMembership(of)(a, b);
const at = (degrees: number, chroma: number): [number, number] => [
  chroma * Math.cos((degrees * Math.PI) / 180),
  chroma * Math.sin((degrees * Math.PI) / 180),
];

describe('OKLab', () => {
  // Values given where it was published.
  it.each([
    [
      [1, 1, 1],
      [1, 0, 0],
    ],
    [
      [1, 0, 0],
      [0.62796, 0.22486, 0.12585],
    ],
    [
      [0, 1, 0],
      [0.86644, -0.23389, 0.1795],
    ],
    [
      [0, 0, 1],
      [0.45201, -0.03246, -0.31153],
    ],
  ] as const)('of light %s is %s', (light, lab) => {
    linearToOklab(light).forEach((v, i) => expect(v).toBeCloseTo(lab[i], 4));
  });

  it('keeps the hue of a light that grows brighter, and has none for a grey', () => {
    fc.assert(
      fc.property(fc.tuple(unit, unit, unit), fc.double({ min: 0.1, max: 3, noNaN: true }), (light, by) => {
        const [, chroma, hue] = oklchOf(light);
        if (chroma < 0.01) return;
        expect(hueDistance(hue, oklchOf([by * light[0], by * light[1], by * light[2]])[2])).toBeLessThan(1e-3);
      }),
    );
    expect(oklchOf([0.3, 0.3, 0.3])[1]).toBeLessThan(1e-6);
  });
});

describe('the share in a family of hues', () => {
  it('is all of it inside, falls over the soft rim, and is nothing beyond, whichever way round the circle', () => {
    fc.assert(
      fc.property(angle, angle, (centre, hue) => {
        const share = hueShare(...at(hue, 0.2), { ...range, centre });
        const away = hueDistance(hue, centre);
        if (away < 29.9) expect(share).toBe(1);
        else if (away > 50.1) expect(share).toBe(0);
        expect(share).toBeGreaterThanOrEqual(0);
        expect(share).toBeLessThanOrEqual(1);
      }),
    );
    expect(hueShare(...at(80, 0.2), range)).toBeCloseTo(0.5, 6);
  });

  it('leaves greys alone, and grows with the chroma', () => {
    expect(hueShare(0, 0, range)).toBe(0);
    expect(hueShare(...at(40, 0.005), range)).toBe(0);
    const shares = [0.01, 0.02, 0.04, 0.06, 0.1].map((chroma) => hueShare(...at(40, chroma), range));
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares[4]).toBe(1);
  });
});

describe('shares of many pixels', () => {
  it('are those of each, whatever the family; no data stays so', () => {
    const part = fc.double({ min: 0, max: 90, noNaN: true });
    const chroma = fc.oneof(fc.constant(0), fc.double({ min: 0.01, max: 0.2, noNaN: true }));
    fc.assert(
      fc.property(angle, part, part, chroma, fc.boolean(), fc.nat(999), (centre, width, soft, full, isCoded, seed) => {
        const random = randomFrom(seed);
        const planes = [0, 1, 2].map(() => Float32Array.from({ length: 40 }, () => random.next()));
        planes[seed % 3][seed % 40] = Number.NaN;
        const family = { centre, width, soft: 2 + soft, chroma: full };
        const [found, wanted] = [new Float32Array(40), new Float32Array(40)];
        hueMembershipPlane(planes, family, isCoded, found);
        hueSharesPlain(planes, family, isCoded, wanted);
        const { a, b } = labPlanesPlain({ planes }, isCoded ? 'stretched' : 'linear');
        found.forEach((v, i) => {
          expect(Number.isNaN(v)).toBe(Number.isNaN(wanted[i]));
          // The last digit of a and b turns the hue by as much as the colour is faint.
          const turn = 1e-6 / Math.hypot(a[i], b[i]);
          if (v === v)
            expect(Math.abs(v - wanted[i])).toBeLessThan(1e-4 + (1.5 * turn) / ((family.soft * Math.PI) / 180));
        });
      }),
    );
  });
});

describe('a mask of a hue', () => {
  const [w, h] = [24, 4];
  const ramp = { ...mono(w, h, (x) => x / (w - 1)) };
  const stacks = { R: ramp, G: mono(w, h, () => 0.3), B: mono(w, h, (x) => 1 - x / (w - 1)) };
  const rgb = { mix: { red: { R: 1 }, green: { G: 1 }, blue: { B: 1 } } };
  const recipe = (domain: 'linear' | 'stretched') => ({
    recipe: {
      ...recipeOf([...Object.keys(stacks).map((id) => strand(id)), { id: 'RGB', from: rgb }], {
        layers: [{ id: 'a', of: { strand: 'RGB' } }],
      }),
      masks: [{ id: 'red', of: { strand: 'RGB' }, hue: { centre: 29, width: 60, soft: 20 } }],
    },
    of: Object.fromEntries(Object.entries(stacks).map(([id, stack]) => [id, { ...stack, domain }])),
  });

  it.each(['linear', 'stretched'] as const)('is what its pixels say of a %s image', (domain) => {
    const { recipe: made, of } = recipe(domain);
    const [mask] = evaluateRecipe(made, of, 'masks[0]').raster.planes;
    for (let x = 0; x < w; x++) {
      const numbers = [x / (w - 1), 0.3, 1 - x / (w - 1)].map((v) => (domain === 'linear' ? v : srgbToLinear(v)));
      const [, chroma, hue] = oklchOf(numbers as [number, number, number]);
      const away = hueDistance(hue, 29);
      if (chroma > 0.06 && away < 29) expect(mask[x]).toBeCloseTo(1, 4);
      if (away > 51) expect(mask[x]).toBe(0);
    }
    // The red end is in it, the blue end is not.
    expect(mask[w - 1]).toBeGreaterThan(0.9);
    expect(mask[0]).toBe(0);
  });

  it('is refused of what is grey', () => {
    const { recipe: made, of } = recipe('stretched');
    const grey = { ...made, masks: [{ ...made.masks[0], of: { strand: 'R' } }] };
    expect(graphOf(grey, of).faults[0]).toMatchObject({ code: 'no-hue', path: 'masks[0].hue' });
  });
});
