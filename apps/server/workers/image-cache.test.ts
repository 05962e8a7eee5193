import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ImageCache } from './image-cache';

const rect = { x: 0, y: 0, width: 8, height: 4 };
const BYTES = 8 * 4 * 4;
const keep = (images: ImageCache, hash: string, at = rect) => {
  const raster = images.take(at, 1);
  raster.planes[0].fill(Number(hash));
  return images.keep({ hash, raster, counted: new Map() }, 1);
};

describe('kept images', () => {
  it('are found again by what they show and where, until the room is needed; the one read longest ago goes first', () => {
    const images = new ImageCache(2 * BYTES);
    for (const hash of ['1', '2']) images.release(keep(images, hash));
    const again = images.acquire('1', rect);
    expect(again?.raster.planes[0][0]).toBe(1);
    if (again) images.release(again);
    images.release(keep(images, '3'));
    expect(images.acquire('2', rect)).toBeUndefined();
    expect(images.acquire('1', rect)).toBeDefined();
    expect(images.acquire('3', { ...rect, width: 9 })).toBeUndefined();
  });

  it('are found for a part of what they hold', () => {
    const images = new ImageCache(2 * BYTES);
    images.release(keep(images, '1'));
    expect(images.holdCovering('1', { x: 2, y: 1, width: 3, height: 2 })).toBeDefined();
    expect(images.holdCovering('1', { x: 2, y: 1, width: 9, height: 2 })).toBeUndefined();
    expect(images.holdCovering('2', rect)).toBeUndefined();
  });

  it('stay as they are while someone reads them, whatever comes', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(6), fc.boolean()), { maxLength: 60 }), (deeds) => {
        const images = new ImageCache(2 * BYTES);
        const held: { hash: string; image: ReturnType<typeof keep> }[] = [];
        for (const [n, letGo] of deeds) {
          const hash = String(n + 1);
          if (letGo) {
            const last = held.pop();
            if (last) images.release(last.image);
          } else held.push({ hash, image: images.acquire(hash, rect) ?? keep(images, hash) });
          for (const one of held) expect(one.image.raster.planes[0].every((v) => v === Number(one.hash))).toBe(true);
          // The budget holds as soon as something is let go.
          if (letGo) expect(images.evictableBytes).toBeLessThanOrEqual(2 * BYTES);
        }
      }),
    );
  });

  it('give their memory to those that come after', () => {
    const images = new ImageCache(BYTES);
    const first = keep(images, '1');
    const [plane] = first.raster.planes;
    images.release(first);
    images.release(keep(images, '2'));
    expect(images.take(rect, 1).planes[0].buffer).toBe(plane.buffer);
  });

  it('make room before the next image comes, not after it, so that its memory is theirs', () => {
    const images = new ImageCache(3 * BYTES);
    for (const hash of ['1', '2', '3']) images.release(keep(images, hash));
    // Read anew, the first two stay longer than the third.
    for (const hash of ['1', '2']) {
      const read = images.acquire(hash, rect);
      if (read) images.release(read);
    }
    const next = images.take(rect, 1);
    next.planes[0].fill(4);
    expect(images.acquire('3', rect)).toBeUndefined();
    expect(images.evictableBytes + images.spare.idle).toBe(2 * BYTES);
    expect(images.acquire('1', rect)?.raster.planes[0][0]).toBe(1);
  });

  it('leave no more memory waiting than their budget, however large what waits', () => {
    const images = new ImageCache(4 * BYTES);
    const wide = images.take({ ...rect, width: 32 }, 1);
    images.spare.release(wide);
    expect(images.spare.idle).toBe(4 * BYTES);
    for (const hash of ['1', '2', '3', '4']) images.release(keep(images, hash));
    expect(images.evictableBytes).toBe(4 * BYTES);
    // What may always lie idle is not more than the budget.
    expect(images.spare.idle).toBeLessThanOrEqual(4 * BYTES);
  });
});
