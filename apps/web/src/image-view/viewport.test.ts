import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type ViewSize, fitViewport, matrix, toPixel, visibleRect, zoomedAt } from './viewport';

const frame = { x: 0, y: 0, width: 1800, height: 1200 };
const plain: ViewSize = { width: 950, height: 540, turn: 0, flip: 'none' };
const windows = fc.record({
  width: fc.integer({ min: 50, max: 2000 }),
  height: fc.integer({ min: 50, max: 1500 }),
  turn: fc.constantFrom<ViewSize['turn']>(0, 90, 180, 270),
  flip: fc.constantFrom<ViewSize['flip']>('none', 'horizontal', 'vertical'),
  degrees: fc.constantFrom(0, 0, 12.5, -40),
});
const views = fc.record({
  cx: fc.double({ min: -500, max: 2500, noNaN: true }),
  cy: fc.double({ min: -500, max: 2500, noNaN: true }),
  zoom: fc.double({ min: 0.05, max: 16, noNaN: true }),
});

const onScreen = (view: Parameters<typeof matrix>[0], window: ViewSize, x: number, y: number) => {
  const [a, b, c, d, e, f] = matrix(view, window);
  return { x: a * x + c * y + e, y: b * x + d * y + f };
};

describe('the window on the picture', () => {
  it('has the picture the right way up: a greater y lies higher', () => {
    const view = fitViewport(frame, plain);
    expect(onScreen(view, plain, 0, 1199).y).toBeLessThan(onScreen(view, plain, 0, 0).y);
    expect(onScreen(view, plain, 1799, 0).x).toBeGreaterThan(onScreen(view, plain, 0, 0).x);
  });

  it('turns counter-clockwise: what lies right goes up', () => {
    const turned: ViewSize = { ...plain, turn: 90 };
    const view = fitViewport(frame, turned);
    expect(onScreen(view, turned, 1799, 600).y).toBeLessThan(onScreen(view, turned, 0, 600).y);
    const little: ViewSize = { ...plain, degrees: 5 };
    const fall = onScreen(view, little, 1799, 600).y - onScreen(view, little, 0, 600).y;
    const run = onScreen(view, little, 1799, 600).x - onScreen(view, little, 0, 600).x;
    expect((Math.atan2(-fall, run) * 180) / Math.PI).toBeCloseTo(5, 9);
  });

  it('finds the pixel under any point of the screen', () => {
    fc.assert(
      fc.property(
        views,
        windows,
        fc.double({ min: 0, max: 900, noNaN: true }),
        fc.double({ min: 0, max: 500, noNaN: true }),
        (view, window, x, y) => {
          const p = toPixel(view, window, x, y);
          const back = onScreen(view, window, p.x, p.y);
          expect(back.x).toBeCloseTo(x, 4);
          expect(back.y).toBeCloseTo(y, 4);
        },
      ),
    );
  });

  it('keeps the pixel under the pointer while it zooms', () => {
    fc.assert(
      fc.property(
        views,
        windows,
        fc.double({ min: 0, max: 900, noNaN: true }),
        fc.double({ min: 0, max: 500, noNaN: true }),
        fc.double({ min: 0.2, max: 5, noNaN: true }),
        (view, window, x, y, factor) => {
          const before = toPixel(view, window, x, y);
          const after = toPixel(zoomedAt(view, window, x, y, factor), window, x, y);
          expect(after.x).toBeCloseTo(before.x, 4);
          expect(after.y).toBeCloseTo(before.y, 4);
        },
      ),
    );
  });

  it('shows the whole frame when it is fitted, whichever way it is turned', () => {
    fc.assert(
      fc.property(windows, (window) => {
        const seen = visibleRect(fitViewport(frame, window), window);
        expect(seen.x).toBeLessThanOrEqual(1);
        expect(seen.y).toBeLessThanOrEqual(1);
        expect(seen.x + seen.width).toBeGreaterThanOrEqual(1799);
        expect(seen.y + seen.height).toBeGreaterThanOrEqual(1199);
      }),
    );
  });
});
