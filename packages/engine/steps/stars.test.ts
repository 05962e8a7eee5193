import { describe, expect, it } from 'vitest';
import type { Step } from '@owl-loom/recipe/schema';
import { makeSky } from '@owl-loom/testing/skies';
import { graphOf, recipeOf, type TestStack, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';

const [width, height] = [260, 200];
const { plane, truth } = makeSky({ width, height, seed: 9, stars: 60, fwhm: 3, beta: 3, noise: 0.001 });
const stacks: Record<string, TestStack> = {
  L: { width, height, planes: [plane] },
  S: { width, height, planes: [plane.map((v) => Math.min(1, Math.sqrt(v)))], domain: 'stretched' },
};
const made = (from: string, ...steps: Step[]): Float32Array =>
  evaluateRecipe(recipeOf([{ id: 'X', from: { stack: from }, steps }]), stacks, 'strands[0]').raster.planes[0];

/** Stars away from others and the frame. */
const alone = truth.filter(
  (s) =>
    s.peak > 0.04 &&
    s.x > 20 &&
    s.y > 20 &&
    s.x < width - 20 &&
    s.y < height - 20 &&
    truth.every((other) => other === s || Math.hypot(other.x - s.x, other.y - s.y) > 14),
);

describe('stars apart', () => {
  it('added, or screened, onto the image without them give the image back', () => {
    const [bare, stars] = [made('L', { do: 'starless' }), made('L', { do: 'stars-only' })];
    expect(stars.some((v) => v > 0.1)).toBe(true);
    bare.forEach((v, i) => expect(v + stars[i]).toBeCloseTo(plane[i], 6));
    const [under, over] = [made('S', { do: 'starless' }), made('S', { do: 'stars-only', by: 'screen' })];
    const whole = stacks.S.planes[0];
    under.forEach((v, i) => {
      expect(over[i]).toBeGreaterThanOrEqual(0);
      expect(1 - (1 - v) * (1 - over[i])).toBeCloseTo(whole[i], 5);
    });
  });

  it('made smaller keep their tops, and leave alone what lies around them', () => {
    const small = made('L', { do: 'star-shrink', amount: 1 });
    expect(alone.length).toBeGreaterThan(2);
    for (const { x, y, peak } of alone) {
      const at = (dx: number, dy: number) => Math.round(y + dy) * width + Math.round(x + dx);
      const over = (image: Float32Array, dx: number, dy: number) => image[at(dx, dy)] - 0.05;
      expect(over(small, 0, 0)).toBeGreaterThan(0.5 * peak);
      expect(over(small, 2, 0) / over(plane, 2, 0)).toBeLessThan(0.45);
      expect(over(small, 0, -2) / over(plane, 0, -2)).toBeLessThan(0.45);
      expect(Math.abs(over(small, 11, 0) - over(plane, 11, 0))).toBeLessThan(0.004);
    }
    expect(made('L', { do: 'star-shrink', amount: 0 })).toEqual(plane);
  });

  it('go by a partner that was made elsewhere, wherever the strand was moved, and give the image back all the same', () => {
    const bare = plane.map((v, i) => 0.05 + 0.3 * (v - 0.05) + 0.001 * Math.sin(i));
    const both = { ...stacks, N: { width, height, planes: [bare] }, C: { width, height, planes: [bare, bare, bare] } };
    const of = (...steps: Step[]) =>
      evaluateRecipe(recipeOf([{ id: 'X', from: { stack: 'L' }, steps }]), both, 'strands[0]').raster.planes[0];
    expect(of({ do: 'starless', partner: 'N' })).toEqual(bare);
    of({ do: 'stars-only', partner: 'N' }).forEach((v, i) => expect(v + bare[i]).toBeCloseTo(plane[i], 6));
    // Moved by whole pixels: the partner lies where the strand does.
    const moved = of({ do: 'place', dx: 7, dy: -3 }, { do: 'starless', partner: 'N' });
    for (let y = 0; y < height - 3; y += 9)
      for (let x = 7; x < width; x += 11) expect(moved[y * width + x]).toBe(bare[(y + 3) * width + x - 7]);
    const faultOf = (...steps: Step[]) => graphOf(recipeOf([{ id: 'X', from: { stack: 'L' }, steps }]), both).faults[0];
    expect(faultOf({ do: 'scale', add: 0.1 }, { do: 'starless', partner: 'N' })).toMatchObject({
      code: 'partner-late',
    });
    expect(faultOf({ do: 'starless', partner: 'C' })).toMatchObject({
      code: 'partner-differs',
      path: 'strands[0].steps[0].partner',
    });
    expect(faultOf({ do: 'stars-only', partner: 'nowhere' })).toMatchObject({
      code: 'missing-stack',
      path: 'strands[0].steps[0].partner',
    });
  });

  it('are taken by hand as well, and spared', () => {
    const star = alone[0];
    const i = Math.round(star.y) * width + Math.round(star.x);
    const spared = made('L', { do: 'starless', spare: [{ x: star.x + 1, y: star.y }] });
    expect(spared[i]).toBeCloseTo(plane[i], 5);
    const circle = { x: 120, y: 90, radius: 9 };
    const also = made('L', { do: 'starless', also: [circle] });
    const plain = made('L', { do: 'starless' });
    expect(also[90 * width + 120]).not.toBe(plain[90 * width + 120]);
    // Where there is no star to spare nothing changes.
    expect(made('L', { do: 'starless', spare: [{ x: -50, y: 9000 }] })).toEqual(plain);
  });
});

describe('mending', () => {
  const ramp = Float32Array.from({ length: width * height }, (_, i) => 0.1 + 0.001 * (i % width));
  const spoilt = ramp.map((v, i) => (Math.hypot((i % width) - 80, Math.floor(i / width) - 60) < 5 ? v + 0.3 : v));
  const mended = (...strokes: object[]): Float32Array => {
    const image = { width, height, planes: [spoilt] };
    const recipe = recipeOf([{ id: 'X', from: { stack: 'L' }, steps: [{ do: 'mend', strokes }] }]);
    return evaluateRecipe(recipe, { L: image }, 'strands[0]').raster.planes[0];
  };
  const at = (x: number, y: number) => y * width + x;

  it('fills a blemish from around it, on a slope too', () => {
    const out = mended({ radius: 8, points: [[80, 60]] });
    out.forEach((v, i) => expect(Math.abs(v - ramp[i])).toBeLessThan(0.004));
  });

  it('or with what lies at an offset, and nothing else', () => {
    const out = mended({ radius: 8, points: [[80, 60]], from: [0, 40] });
    expect(out[at(80, 60)]).toBeCloseTo(ramp[at(80, 100)], 6);
    expect(out[at(100, 60)]).toBe(spoilt[at(100, 60)]);
  });

  it('leaves alone what would come from beyond the picture', () => {
    const out = mended({ radius: 6, points: [[2, 60]], from: [-40, 0] });
    expect(out).toEqual(spoilt);
  });
});
