import { describe, expect, it } from 'vitest';
import { encodeFits } from '@owl-loom/image/fits/write';
import { fileSource, validateFile } from './check';

const fits = (name: string) =>
  new File([...encodeFits({ width: 5, height: 4, planes: [new Float32Array(20)] })] as BlobPart[], name);

describe('a file before it is sent', () => {
  it('may go where it is a stack, or gzipped', async () => {
    expect(await validateFile(fits('a.fits'))).toBeUndefined();
    expect(await validateFile(new File([Uint8Array.from([0x1f, 0x8b, 8, 0])], 'a.fits.gz'))).toBeUndefined();
  });

  it('is refused in one sentence where it is none, or cut short', async () => {
    expect(await validateFile(new File(['no stars'], 'a.fits'))).toMatch(/a.fits is not a FITS file/);
    expect(await validateFile(new File([], 'empty.fits'))).toMatch(/empty.fits is not a FITS file/);
    const whole = fits('b.fits');
    expect(await validateFile(new File([whole.slice(0, 2900)], 'b.fits'))).toMatch(
      /b\.fits is truncated: 20 of 80 bytes of d/,
    );
  });

  it('is read piece by piece', async () => {
    const source = fileSource(new File(['0123456789'], 'x'));
    expect(String.fromCharCode(...(await source.read(3, 4)))).toBe('3456');
    await expect(source.read(8, 4)).rejects.toThrow(/past the end/);
  });
});
