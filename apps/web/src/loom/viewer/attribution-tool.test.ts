import { describe, expect, it } from 'vitest';
import { pickRect, askedRect } from './attribution-tool';

const frame = { x: 0, y: 0, width: 100, height: 80 };
const spot = (x: number, y: number, zoom = 1) => ({ x, y, sx: x * zoom, sy: y * zoom });

describe('the place that is asked about', () => {
  it('is a few screen pixels about a touch, however close one looks', () => {
    expect(pickRect({ x: 50, y: 40 }, 1)).toEqual({ x: 48, y: 38, width: 5, height: 5 });
    expect(pickRect({ x: 50, y: 40 }, 0.25)).toMatchObject({ width: 20, height: 20 });
    expect(pickRect({ x: 50, y: 40 }, 16)).toMatchObject({ width: 1, height: 1 });
  });

  it('is what a drag encloses, within the frame', () => {
    expect(askedRect(spot(10, 10), spot(30, 20), frame, 1)).toEqual({ x: 10, y: 10, width: 21, height: 11 });
    expect(askedRect(spot(90, 70), spot(140, 120), frame, 1)).toEqual({ x: 90, y: 70, width: 10, height: 10 });
    expect(askedRect(spot(99, 79), spot(99, 79), frame, 1)).toMatchObject({ width: 3, height: 3 });
    expect(askedRect(spot(300, 300), spot(300, 300), frame, 1)).toBeNull();
  });
});
