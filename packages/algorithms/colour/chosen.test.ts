import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { colourTyped, hexFrom, hexOf, lchOf, MAX_CHROMA, mostChroma } from './chosen';
import { hueDistance } from './oklch';

const hex = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, '0')}`);

describe('a chosen colour', () => {
  it('is the same after it was taken apart and put together', () => {
    fc.assert(
      fc.property(hex, (colour) => void expect(hexFrom(lchOf(colour))).toBe(colour)),
      { numRuns: 2000 },
    );
  });

  it('keeps lightness and hue where it has more chroma than can be shown', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.25, max: 0.9, noNaN: true }),
        fc.double({ min: 0, max: 360, noNaN: true }),
        (lightness, hue) => {
          const [l, c, h] = lchOf(hexFrom([lightness, 0.5, hue]));
          // A byte a plane is as near as it comes.
          expect(Math.abs(l - lightness)).toBeLessThan(0.006);
          expect(Math.abs(c - mostChroma(lightness, hue))).toBeLessThan(0.01);
          if (c > 0.05) expect(hueDistance(h, hue)).toBeLessThan(4);
        },
      ),
    );
  });

  it('has no more chroma than is said to be the most', () => {
    fc.assert(fc.property(hex, (colour) => void expect(lchOf(colour)[1]).toBeLessThan(MAX_CHROMA)));
    // Published: the sRGB primaries have chroma 0.2577, 0.2948 and 0.3132 at hues of 29.2, 142.5 and 264.1 degrees.
    const primaries = ['#ff0000', '#00ff00', '#0000ff'].map(lchOf);
    expect(primaries.map(([, c]) => Number(c.toFixed(3)))).toEqual([0.258, 0.295, 0.313]);
    expect(primaries.map(([, , h]) => Math.round(h))).toEqual([29, 142, 264]);
  });

  it('is read as it is typed', () => {
    const said: [string, string][] = [
      ['#ffb861', '#ffb861'],
      ['FFB861', '#ffb861'],
      [' #fa0 ', '#ffaa00'],
      ['255 184 97', '#ffb861'],
      ['255,184,97', '#ffb861'],
      ['rgb(255, 184, 97)', '#ffb861'],
      ['1.0 0.5 0', '#ff8000'],
      ['1 0 0', '#ff0000'],
      ['2 0 0', '#020000'],
      ['0.2; 0.4; 0.6', '#336699'],
    ];
    for (const [typed, wanted] of said) expect(colourTyped(typed)).toBe(wanted);
    for (const wrong of ['', 'teal', '#ff', '#ff00', '1 2', '1 2 3 4', '256 0 0', '-1 0 0', '1.5 0 0', '0.5 2 0'])
      expect(colourTyped(wrong)).toBeUndefined();
    fc.assert(fc.property(hex, (colour) => void expect(colourTyped(colour.slice(1).toUpperCase())).toBe(colour)));
    expect(hexOf([2, -1, 0.5])).toBe('#ff0080');
  });
});
