import { expect, it } from 'vitest';
import { uselessMask } from './MaskRangeWarning';

it('a mask that hides everything, or nothing, is told of, and no other', () => {
  expect(uselessMask([0, 0.001])).toMatch(/hides everything/);
  expect(uselessMask([-3, 0])).toMatch(/hides everything/);
  expect(uselessMask([1, 1])).toMatch(/hides nothing/);
  expect(uselessMask([0.999, 7])).toMatch(/hides nothing/);
  for (const reach of [
    [0, 1],
    [0, 0.01],
    [0.9, 1],
  ] as const)
    expect(uselessMask(reach)).toBeUndefined();
});
