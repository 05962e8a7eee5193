import { expect, it } from 'vitest';
import { pyramidBytes, formatBytes } from './disk-space';

it('bytes are said in the unit that fits them', () => {
  expect([0, -5, 1, 98_000, 999_001, 1e6, 300e6, 1e9, 4.25e9].map(formatBytes)).toEqual([
    '0 MB',
    '0 MB',
    '1 kB',
    '98 kB',
    '1000 kB',
    '1 MB',
    '300 MB',
    '1.0 GB',
    '4.3 GB',
  ]);
});

it('a pyramid has a third more bytes than its pixels', () => {
  expect(pyramidBytes({ width: 300, height: 200, planes: 3 })).toBe(960_000);
});
