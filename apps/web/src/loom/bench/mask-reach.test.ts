import { expect, it } from 'vitest';
import { uselessMask } from './MaskRangeWarning';

it('a mask that hides everything, or nothing, is told of, and no other', () => {
  expect(uselessMask([0, 0.001])).toMatch(/The mask is black everywhere/);
  expect(uselessMask([-3, 0])).toMatch(/The mask is black everywhere/);
  expect(uselessMask([1, 1])).toMatch(/The mask is white everywhere/);
  expect(uselessMask([0.999, 7])).toMatch(/The mask is white everywhere/);
  for (const reach of [
    [0, 1],
    [0, 0.01],
    [0.9, 1],
  ] as const)
    expect(uselessMask(reach)).toBeUndefined();
});
