import fc from 'fast-check';
import { expect, it } from 'vitest';
import { paint as paintSchema } from '@owl-loom/recipe/mask-schema';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { Brush } from '../../store/view';
import { paintedMask, paintOf, type PenSpot, resized, strokeOf, appendPoint } from './painting';

const brush: Brush = { shape: 'stroke', mode: 'hide', radius: 20, soft: 10, strength: 0.5 };

it('a stroke goes where the pen went, in as few places as tell its way', () => {
  const spot = fc.record({
    x: fc.double({ min: 0, max: 900, noNaN: true }),
    y: fc.double({ min: 0, max: 900, noNaN: true }),
  });
  fc.assert(
    fc.property(fc.array(spot, { minLength: 1, maxLength: 60 }), (spots) => {
      const way = spots.reduce<readonly PenSpot[]>((before, next) => appendPoint(before, next, brush.radius), []);
      expect(way[0]).toEqual(spots[0]);
      for (const { x, y } of spots) {
        const nearest = Math.min(...way.map((place) => Math.hypot(place.x - x, place.y - y)));
        expect(nearest).toBeLessThan(0.1 * brush.radius + 1e-9);
      }
      expect(paintSchema.safeParse(strokeOf(way, brush)).success).toBe(true);
    }),
  );
});

it('says of a stroke what it needs, pressure where a pen told it', () => {
  expect(
    strokeOf([{ x: 10.04, y: 3 }], { shape: 'stroke', mode: 'reveal', radius: 12.34, soft: 0, strength: 1 }),
  ).toEqual({
    mode: 'reveal',
    shape: 'stroke',
    radius: 12.3,
    points: [[10, 3]],
  });
  expect(strokeOf([{ x: 1, y: 2, pressure: 0.333 }], brush)).toEqual({
    mode: 'hide',
    strength: 0.5,
    soft: 10,
    shape: 'stroke',
    radius: 20,
    points: [[1, 2, 0.33]],
  });
});

it('a brush keeps its softness by share as it grows, and stays within a picture', () => {
  const grown = resized(brush, 2);
  expect([grown.radius, grown.soft]).toEqual([40, 20]);
  expect(resized(brush, 1e6).radius).toBe(2000);
  expect(resized(brush, 1e-6).radius).toBe(1);
});

it('paints on the chosen mask, and on nothing while a step of it is chosen', () => {
  const recipe: Recipe = {
    format: 'owl-loom-recipe',
    version: 1,
    strands: [{ id: 'A', from: { stack: 'A' } }],
    masks: [{ id: 'gas', of: { strand: 'A' }, steps: [{ do: 'stretch' }], paint: [strokeOf([{ x: 1, y: 1 }], brush)] }],
    cloth: { layers: [{ of: { strand: 'A' }, mask: { of: { strand: 'A' } } }] },
  };
  const mask = paintedMask(recipe, 'masks[0]');
  expect(mask && paintOf(recipe, mask)).toHaveLength(1);
  expect(paintedMask(recipe, 'masks[0].steps[0]')).toBeUndefined();
  expect(paintedMask(recipe, 'cloth.layers[0].mask')?.path).toBe('cloth.layers[0].mask');
  expect(paintedMask(recipe, 'cloth.layers[0]')).toBeUndefined();
});
