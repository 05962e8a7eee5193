import { bytesToHex, hexToBytes } from '@noble/hashes/utils.js';
import fc from 'fast-check';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { floatsToHex, floatsFromHex } from './float-hex';

const numbers = fc.array(fc.float(), { maxLength: 50 });

describe('numbers in hexadecimal', () => {
  it('come back the same, and are little-endian single precision', () => {
    fc.assert(
      fc.property(numbers, (given) => {
        const text = floatsToHex(given);
        expect([...floatsFromHex(text)]).toEqual(given);
        const view = new DataView(hexToBytes(text).buffer);
        given.forEach((v, i) => expect(view.getFloat32(4 * i, true)).toBe(v));
      }),
    );
  });

  it('are refused where they are damaged', () => {
    expect(() => floatsFromHex('0000803g')).toThrow();
    expect(() => floatsFromHex('0000803')).toThrow();
  });
});

describe('without what Node has for it, as in a browser', () => {
  afterEach(() => vi.unstubAllGlobals());

  it('is the same text', async () => {
    const bytes = new Float32Array([1.5, -2, 0, 3e30]);
    vi.resetModules();
    vi.stubGlobal('Buffer', undefined);
    const plain = await import('./float-hex');
    const text = plain.floatsToHex(bytes);
    expect([...plain.floatsFromHex(text)]).toEqual([...bytes]);
    expect(text).toBe(bytesToHex(new Uint8Array(bytes.buffer)));
    vi.unstubAllGlobals();
    expect(floatsToHex(bytes)).toBe(text);
  });
});
