import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PlanePool } from './plane-pool';

const rect = (width: number, height = 1) => ({ x: 0, y: 0, width, height });
const memoryOf = (raster: { planes: readonly Float32Array[] }) => raster.planes.map(({ buffer }) => buffer);

describe('memory for planes', () => {
  it('is used again, the tightest first, for planes of the size and for those a little smaller', () => {
    const planes = new PlanePool(() => 1e6);
    const [large, small] = [planes.acquire(rect(1000), 1), planes.acquire(rect(900), 1)];
    planes.release(large);
    planes.release(small);
    const again = planes.acquire(rect(30, 29), 1);
    expect(again.planes[0].buffer).toBe(small.planes[0].buffer);
    expect(again.planes[0]).toHaveLength(870);
    expect(planes.acquire(rect(870), 1).planes[0].buffer).toBe(large.planes[0].buffer);
    expect(planes.idle).toBe(0);
  });

  it('is not wasted on planes much smaller, nor given to larger ones', () => {
    const planes = new PlanePool(() => 1e6);
    const one = planes.acquire(rect(1000), 1);
    planes.release(one);
    for (const size of [100, 799, 1001])
      expect(planes.acquire(rect(size), 1).planes[0].buffer).not.toBe(one.planes[0].buffer);
    expect(planes.fitting(rect(800))).toBe(1);
    planes.clear(2000);
    expect(planes.idle).toBe(0);
  });

  it('lies idle within its room, and no two planes at work share any, whatever is asked and given back', () => {
    const deed = fc.tuple(fc.integer({ min: 1, max: 12 }), fc.constantFrom(1 as const, 3 as const), fc.boolean());
    fc.assert(
      fc.property(fc.array(deed, { maxLength: 60 }), fc.integer({ min: 0, max: 200 }), (deeds, room) => {
        const planes = new PlanePool(() => room);
        const out: ReturnType<typeof planes.acquire>[] = [];
        for (const [size, count, back] of deeds) {
          const given = back ? out.pop() : undefined;
          if (given) planes.release(given);
          else out.push(planes.acquire(rect(size), count));
          const all = out.flatMap(memoryOf);
          expect(new Set(all).size).toBe(all.length);
          expect(planes.idle).toBeLessThanOrEqual(room);
          const missing = planes.missing(size, 5);
          expect(missing).toBeLessThanOrEqual(5);
          expect(planes.idle + missing * 4 * size).toBeLessThanOrEqual(room);
        }
      }),
    );
  });
});
