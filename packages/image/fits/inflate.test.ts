import { gzipSync } from 'node:zlib';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { inflateBounded } from './inflate';

describe('unpacking', () => {
  it('gives back what was packed', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 5000 }), (bytes) => {
        expect(inflateBounded(new Uint8Array(gzipSync(bytes)), bytes.length)).toEqual(bytes);
      }),
    );
  });

  it('stops at data that swell beyond what they may', () => {
    const trap = new Uint8Array(gzipSync(new Uint8Array(50_000_000)));
    expect(() => inflateBounded(trap, 100_000)).toThrow(/larger than its pixels/);
  });

  it('refuses damage', () => {
    expect(() => inflateBounded(Uint8Array.from([1, 2, 3, 4]), 100)).toThrow(RangeError);
  });
});
