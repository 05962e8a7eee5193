import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { CurvePoint } from '@owl-loom/algorithms/tone/monotone';
import { added, isStraight, moved, placeOn, placesOn, STRAIGHT } from './curve-points';

const place = fc.tuple(
  fc.double({ min: -0.5, max: 1.5, noNaN: true }),
  fc.double({ min: -0.5, max: 1.5, noNaN: true }),
);

describe('points of a curve', () => {
  it('stay in order, apart, and in the chart, whatever the hand does', () => {
    const deed = fc.record({ at: place, index: fc.nat(30), adds: fc.boolean() });
    fc.assert(
      fc.property(fc.array(deed, { maxLength: 25 }), (deeds) => {
        let points: readonly CurvePoint[] = STRAIGHT;
        for (const { at, index, adds } of deeds) {
          const before = points.length;
          if (adds) {
            const made = added(points, at);
            points = made.points;
            expect(points.length - before).toBeLessThanOrEqual(1);
            expect(points[made.index][1]).toBeCloseTo(Math.min(1, Math.max(0, at[1])), 2);
          } else points = moved(points, index % before, at);
          for (const [x, y] of points) {
            expect(x).toBeGreaterThanOrEqual(0);
            expect(x).toBeLessThanOrEqual(1);
            expect(y).toBeGreaterThanOrEqual(0);
            expect(y).toBeLessThanOrEqual(1);
          }
          points.slice(1).forEach(([x], i) => expect(x).toBeGreaterThan(points[i][0]));
        }
      }),
    );
  });

  it('tell a line that changes nothing', () => {
    expect(isStraight(STRAIGHT)).toBe(true);
    expect(isStraight(added(STRAIGHT, [0.5, 0.5]).points)).toBe(true);
    expect(isStraight(added(STRAIGHT, [0.5, 0.6]).points)).toBe(false);
    expect(isStraight(moved(STRAIGHT, 0, [0.1, 0.1]))).toBe(false);
  });
});

describe('where a pixel stands on a curve', () => {
  const rgb = [0.2, 0.5, 0.8];
  const lifted: CurvePoint[] = [
    [0, 0.1],
    [1, 1],
  ];

  it('is its own number, or its luminance where planes share the line', () => {
    expect(placesOn('all', rgb, {})).toEqual(rgb);
    expect(placesOn('green', rgb, {})).toEqual([0.5]);
    expect(placeOn('all', rgb, {})).toBeCloseTo(0.2126 * 0.2 + 0.7152 * 0.5 + 0.0722 * 0.8, 9);
    expect(placeOn('all', [0.3], {})).toBe(0.3);
  });

  it('is what the lines before have made of it', () => {
    expect(placesOn('red', rgb, { all: lifted })[0]).toBeCloseTo(0.28, 6);
    expect(placesOn('luminance', [0.5, 0.5, 0.5], { all: lifted, red: lifted })[0]).toBeCloseTo(
      0.7874 * 0.55 + 0.2126 * (0.1 + 0.9 * 0.55),
      6,
    );
  });

  it('counts a grey as without chroma, and nothing where there is no data', () => {
    expect(placesOn('chroma', [0.4, 0.4, 0.4], {})[0]).toBeCloseTo(0, 5);
    expect(placesOn('chroma', [1, 0, 0], {})[0]).toBeCloseTo(0.2577 / 0.4, 3);
    expect(placesOn('all', [0.2, Number.NaN, 0.1], {})).toEqual([]);
    expect(placeOn('all', [0.2, Number.NaN, 0.1], {})).toBeUndefined();
  });
});
