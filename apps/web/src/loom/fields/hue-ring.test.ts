import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { HUE_STEP } from '@owl-loom/algorithms/colour/colour-histogram';
import { hueWeight, hueMembership } from '@owl-loom/algorithms/colour/hue-membership';
import { draggedBand, nudged, onCircle, pulled, ringPart, shareHeld, turnTo } from './hue-ring';

const band = {
  centre: 140,
  width: 60,
  soft: 30,
  turn: -20,
  chroma: 1,
  lightness: 0,
  shift: [0, 0, 0] as [number, number, number],
};
const degrees = fc.double({ min: -720, max: 720, noNaN: true });

describe('the ring of hues', () => {
  it('turns the short way, and gets there', () => {
    fc.assert(
      fc.property(degrees, degrees, (from, to) => {
        const by = turnTo(from, to);
        expect(Math.abs(by)).toBeLessThanOrEqual(180);
        expect(Math.cos(((from + by - to) * Math.PI) / 180)).toBeCloseTo(1, 6);
      }),
    );
  });

  it('pulls each number of a family to where the pointer is', () => {
    expect(pulled(band, 'centre', 160, 150)).toEqual({ centre: 150 });
    expect(pulled({ ...band, centre: 355 }, 'centre', 15, 0)).toEqual({ centre: 10 });
    expect(pulled(band, 'width', 190, 0)).toEqual({ width: 100 });
    expect(pulled(band, 'width', 90, 0)).toEqual({ width: 100 });
    expect(pulled(band, 'soft', 200, 0)).toEqual({ soft: 30 });
    expect(pulled(band, 'soft', 141, 0)).toEqual({ soft: 0 });
    expect(pulled(band, 'turn', 90, 0)).toEqual({ turn: -50 });
    expect(pulled({ ...band, centre: 350 }, 'turn', 20, 0)).toEqual({ turn: 30 });
  });

  it('keeps what keys move within its limits', () => {
    expect(nudged({ ...band, centre: 359 }, 'centre', 2)).toEqual({ centre: 1 });
    expect(nudged({ ...band, width: 1 }, 'width', -2)).toEqual({ width: 0 });
    expect(nudged({ ...band, turn: 179.5 }, 'turn', 2)).toEqual({ turn: 180 });
  });

  it('holds a hue as the step does', () => {
    const colour = hueMembership({ ...band, chroma: 0.04 });
    fc.assert(
      fc.property(degrees, (hue) => {
        const angle = (hue * Math.PI) / 180;
        expect(hueWeight(band, hue)).toBeCloseTo(colour(0.2 * Math.cos(angle), 0.2 * Math.sin(angle)), 5);
      }),
    );
  });

  it('tells how much of the picture a family holds', () => {
    const hues = Array.from({ length: 360 / HUE_STEP }, (_, i) => ({
      share: [120, 140, 300].includes(i * HUE_STEP) ? 0.2 : 0,
      chroma: 0.1,
    }));
    const colours = { hues, plane: new Uint32Array(), reach: 0.2, count: 100 };
    expect(shareHeld(band, colours)).toBeCloseTo(0.4, 6);
    expect(shareHeld({ ...band, width: 360 }, colours)).toBeCloseTo(0.6, 6);
  });

  it('takes a drag to the side for a turn and one upwards for more colour', () => {
    expect(draggedBand(band, 2, 2)).toBeUndefined();
    expect(draggedBand(band, 40, 0)).toEqual({ turn: 0, chroma: 1 });
    expect(draggedBand(band, 0, -150)).toEqual({ turn: -20, chroma: 2 });
    expect(draggedBand(band, 4000, 4000)).toEqual({ turn: 180, chroma: 0 });
  });

  it('draws angles counter-clockwise from the right, and a whole ring as one', () => {
    expect(onCircle(100, 50, 90).map(Math.round)).toEqual([100, 50]);
    expect(ringPart(100, [40, 50], 0, 90)).toMatch(/^M150.00 100.00A50 50 0 0 0 100.00 50.00L/);
    expect(ringPart(100, [40, 50], 0, 360)).toContain('0 1 0');
  });
});
