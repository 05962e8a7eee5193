import { expect, it } from 'vitest';
import { pyramidBytes, formatBytes } from './disk-space';

it('bytes are said in the unit that fits them', () => {
  expect([0, -5, 1, 100_000, 2 ** 20 - 1, 2 ** 20, 300 * 2 ** 20, 2 ** 30, 4.25 * 2 ** 30].map(formatBytes)).toEqual([
    '0 MB',
    '0 MB',
    '1 kB',
    '98 kB',
    '1024 kB',
    '1 MB',
    '300 MB',
    '1.0 GB',
    '4.3 GB',
  ]);
});

it('a pyramid has a third more bytes than its pixels', () => {
  expect(pyramidBytes({ width: 300, height: 200, planes: 3 })).toBe(960_000);
});
