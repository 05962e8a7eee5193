import { describe, expect, it } from 'vitest';
import { shareOf, changedPixels } from './changed-pixels';

const raster = (...planes: number[][]) => ({
  rect: { x: 0, y: 0, width: planes[0].length, height: 1 },
  planes: planes.map((plane) => Float32Array.from(plane)),
});

describe('what a layer changes', () => {
  it('is what differs by more than the eye can be shown, in any plane', () => {
    const before = raster([0.5, 0.5, 0.5, 0.5], [0.5, 0.5, 0.5, 0.5], [0.5, 0.5, 0.5, 0.5]);
    const after = raster([0.5, 0.503, 0.505, 0.5], [0.5, 0.497, 0.5, 0.5], [0.5, 0.5, 0.5, 0.4]);
    expect([...changedPixels(before, after)]).toEqual([0, 0, 1, 1]);
    expect(shareOf(changedPixels(before, after))).toBe(0.5);
  });

  it('sees a mono cloth under a colour layer, and black under the lowest', () => {
    expect([...changedPixels(raster([0.2, 0.2]), raster([0.2, 0.2], [0.2, 0.3], [0.2, 0.2]))]).toEqual([0, 1]);
    expect([...changedPixels(undefined, raster([0, 0.1]))]).toEqual([0, 1]);
  });

  it('counts data where there was none, and not what has none', () => {
    const touched = changedPixels(raster([Number.NaN, 0.5, 0.5]), raster([0.5, Number.NaN, 0.5]));
    expect([...touched]).toEqual([1, Number.NaN, 0]);
    expect(shareOf(touched)).toBe(0.5);
    expect(shareOf(Float32Array.of(Number.NaN))).toBeNull();
  });
});
