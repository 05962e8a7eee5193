import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Affine, compose, IDENTITY, invertAffine } from '@owl-loom/image/geometry/affine';
import { misalignmentOf, isAligned, describeMisalignment } from './misalignment';

const size = { width: 1500, height: 1000 };
const [cx, cy] = [(size.width - 1) / 2, (size.height - 1) / 2];

/** Where a pixel of the reference lies in an image that was turned (counter-clockwise as seen), flipped, moved and binned. */
function taken(degrees: number, dx: number, dy: number, binned = 1, mirrored = false): Affine {
  const a = (degrees * Math.PI) / 180;
  const turn = { xx: Math.cos(a), xy: -Math.sin(a), tx: 0, yx: Math.sin(a), yy: Math.cos(a), ty: 0 };
  const flip = { ...IDENTITY, xx: mirrored ? -1 : 1 };
  const about = compose(compose({ ...IDENTITY, tx: -cx, ty: -cy }, compose(flip, turn)), {
    ...IDENTITY,
    tx: cx + dx,
    ty: cy + dy,
  });
  return compose(about, {
    ...IDENTITY,
    xx: 1 / binned,
    yy: 1 / binned,
    tx: (1 - binned) / (2 * binned),
    ty: (1 - binned) / (2 * binned),
  });
}
const said = (...args: Parameters<typeof taken>) =>
  describeMisalignment(
    misalignmentOf(invertAffine(taken(...args)), {
      width: size.width / (args[3] ?? 1),
      height: size.height / (args[3] ?? 1),
    }),
  );

describe('how an image lies, in words', () => {
  it.each([
    [[0, 0, 0], 'aligned'],
    [[0, 0.05, 0.1], 'aligned'],
    [[1.2, 12, 7.2], 'rotated 1.2° and shifted 14 px'],
    [[-90, 0, 0], 'rotated 90°'],
    [[0, 3, 4], 'shifted 5.0 px'],
    [[0, 0, 0, 2], 'binned 2×2'],
    [[0, 0, 0, 0.5], 'sampled 2× finer'],
    [[0, 0, 0, 1, true], 'mirrored'],
    [[5, 0, 0, 3, true], 'mirrored, binned 3×3 and rotated 5.0°'],
  ] as const)('%j is "%s"', (args, words) =>
    expect(said(...(args as unknown as Parameters<typeof taken>))).toBe(words),
  );

  it('finds the turn and the shift back that an image was given', () => {
    const degrees = fc.integer({ min: -1790, max: 1790 }).map((tenths) => tenths / 10);
    fc.assert(
      fc.property(
        degrees,
        fc.integer({ min: -80, max: 80 }),
        fc.integer({ min: -80, max: 80 }),
        fc.boolean(),
        (turn, dx, dy, mirrored) => {
          const map = invertAffine(taken(turn, dx, dy, 1, mirrored));
          const lie = misalignmentOf(map, size);
          expect(lie.turn).toBeCloseTo(turn, 6);
          expect(lie.mirrored).toBe(mirrored);
          expect(Math.hypot(...lie.shift)).toBeCloseTo(Math.hypot(dx, dy), 6);
        },
      ),
    );
  });

  it('holds for well only what no corner betrays', () => {
    expect(isAligned(misalignmentOf(invertAffine(taken(0.03, 0, 0)), size))).toBe(false);
    expect(said(0.015, 0, 0)).toBe('aligned');
    expect(said(0.019, 0, 0)).toMatch(/corner/);
  });
});
