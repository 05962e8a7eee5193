import { writeFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { addNoise, scene } from '@owl-loom/testing/random';
import { bytesOf, closeFolder, file, height, loom, openFolder, stacks, width } from '../testing/command';

beforeAll(openFolder);
afterAll(closeFolder);

describe('./loom measure and inspect', () => {
  it('measure a linear fit as JSON', async () => {
    await writeFile(
      file('twice.fits'),
      bytesOf({ ...stacks.Ha, planes: [addNoise(stacks.Ha.planes[0], 0.05, 2, 0.0005, 9)] }),
    );
    const { out, code } = await loom(
      'measure',
      'linear-fit',
      '--reference',
      'twice.fits',
      '--target',
      'Ha.fits',
      '--method',
      'pixels',
    );
    expect(code).toBe(0);
    const fit = JSON.parse(out);
    expect(Object.keys(fit).sort()).toEqual([
      'a',
      'aError',
      'b',
      'bError',
      'correlation',
      'method',
      'rejected',
      'scatter',
      'used',
    ]);
    expect(fit.method).toBe('pixels');
  });

  it('tell the same of a file whether it is read in this thread or, beside larger ones, by others', async () => {
    const size = { width: 1300, height: 900 };
    await writeFile(file('large.fits'), bytesOf({ ...size, planes: [scene(8, size.width, size.height)] }));
    const alone = JSON.parse((await loom('inspect', 'Ha.fits')).out);
    const [beside, large] = JSON.parse((await loom('inspect', 'Ha.fits', 'large.fits')).out);
    expect(beside).toEqual(alone);
    expect(large.size).toEqual(size);
    expect(alone.stars.count).toBeGreaterThan(0);
  });

  it('measure an alignment as JSON, target to reference, and refuse what is no field', async () => {
    const field = scene(31, 360, 260, { stars: 120, clouds: 0.01 });
    const shifted = Float32Array.from({ length: 360 * 260 }, (_, i) =>
      (i % 360) + 6 < 360 && Math.floor(i / 360) + 4 < 260 ? field[i + 6 + 4 * 360] : 0.02,
    );
    await writeFile(
      file('still.fits'),
      bytesOf({ width: 360, height: 260, planes: [addNoise(field, 0, 1, 0.0004, 1)] }),
    );
    await writeFile(
      file('moved.fits'),
      bytesOf({ width: 360, height: 260, planes: [addNoise(shifted, 0, 1, 0.0004, 2)] }),
    );
    const found = JSON.parse(
      (await loom('measure', 'align', '--reference', 'still.fits', '--target', 'moved.fits')).out,
    );
    expect(Object.keys(found).sort()).toEqual(['matched', 'matrix', 'mirrored', 'rms']);
    expect(found.mirrored).toBe(false);
    for (const [r, row] of [
      [1, 0, 6],
      [0, 1, 4],
    ].entries())
      for (const [c, v] of row.entries()) expect(Math.abs(found.matrix[r][c] - v)).toBeLessThan(c === 2 ? 0.1 : 0.001);
    // The same file from the top down: y runs the other way in it.
    await writeFile(
      file('down.fits'),
      bytesOf({ width: 360, height: 260, planes: [addNoise(field, 0, 1, 0.0004, 1)] }, [], true),
    );
    const turned = JSON.parse(
      (await loom('measure', 'align', '--reference', 'still.fits', '--target', 'down.fits')).out,
    );
    expect(turned.mirrored).toBe(true);
    expect(Math.abs(turned.matrix[1][1] + 1)).toBeLessThan(0.001);
    const refused = await loom('measure', 'align', '--reference', 'still.fits', '--target', 'Ha.fits');
    expect(refused.code).toBe(1);
    expect(refused.err).toMatch(/do not match/);
    expect(
      (await loom('measure', 'align', '--reference', 'still.fits', '--target', 'moved.fits', '--by', 'wcs')).err,
    ).toMatch(/has no WCS/);
  });

  it('measure a continuum as JSON', async () => {
    const stars = scene(33, 360, 260, { stars: 150, clouds: 0 });
    await writeFile(
      file('broad.fits'),
      bytesOf({ width: 360, height: 260, planes: [addNoise(stars, 0, 1, 0.0003, 3)] }),
    );
    await writeFile(
      file('line.fits'),
      bytesOf({ width: 360, height: 260, planes: [addNoise(stars, 0.01, 0.2, 0.0001, 4)] }),
    );
    const found = JSON.parse((await loom('measure', 'continuum', '--line', 'line.fits', '--broad', 'broad.fits')).out);
    expect(Object.keys(found)).toEqual(expect.arrayContaining(['k', 'kError', 'stars', 'belowSky']));
    expect(Math.abs(found.k / 0.2 - 1)).toBeLessThan(0.01);
    expect((await loom('measure', 'continuum', '--line', 'line.fits', '--broad', 'line.fits')).err).toMatch(
      /Line and broadband are the same image/,
    );
    expect((await loom('measure', 'continuum', '--line', 'line.fits', '--broad', 'Ha.fits')).err).toMatch(
      /Bring them to one size/,
    );
  });

  it('inspect one file or several', async () => {
    const one = JSON.parse((await loom('inspect', 'Ha.fits')).out);
    expect(one).toMatchObject({
      size: { width, height },
      planes: 1,
      type: 'float32',
      filter: 'Ha',
      exposure: 1200,
      noData: 0,
    });
    expect(one.header.FILTER).toBe('Ha');
    expect(one.sky).toBeCloseTo(0.02, 2);
    expect(one.noise).toBeCloseTo(0.0008, 3);
    expect(one.stars.count).toBeGreaterThan(10);
    const several = JSON.parse((await loom('inspect', 'Ha.fits', 'OIII.fits')).out);
    expect(several).toHaveLength(2);
    expect(several[1].noData).toBeCloseTo(7 / width, 6);
  });

  it('refuse a text file named .fits', async () => {
    await writeFile(file('text.fits'), 'no stars in here');
    const { code, err } = await loom('inspect', 'text.fits');
    expect([code, err.trim().split('\n').length]).toEqual([1, 1]);
    expect(err).toMatch(/text.fits is not a FITS file/);
  });
});
