import { readFile, writeFile } from 'node:fs/promises';
import { gzipSync } from 'node:zlib';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '@owl-loom/image/fits/bytes';
import { textOf } from '@owl-loom/image/fits/cards';
import { openFits } from '@owl-loom/image/fits/image';
import { mono, recipeOf, evaluateRecipe } from '@owl-loom/testing/evaluate-recipe';
import { bytesOf, closeFolder, file, given, height, loom, openFolder, recipe, stacks, width } from '../testing/command';

async function read(name: string) {
  const image = await openFits(memorySource(name, new Uint8Array(await readFile(file(name)))));
  const planes = await Promise.all(Array.from({ length: image.planes }, (_, p) => image.readRows(p, 0, image.height)));
  return { image, planes };
}

beforeAll(openFolder);
afterAll(closeFolder);

describe('./loom render', () => {
  it('gives in bands over worker threads the pixels that one thread gives at once', async () => {
    const { code, err } = await loom(
      'render',
      'recipe.json',
      ...given,
      '--out',
      'cloth.fits',
      '--report',
      'report.json',
    );
    expect(err).toMatch(/warning: cloth.layers\[0\].of: 2.1 % of the picture is not covered by all strands/);
    expect(code).toBe(0);
    const { planes, image } = await read('cloth.fits');
    const wanted = evaluateRecipe(recipe, stacks).raster.planes;
    planes.forEach((plane, p) =>
      plane.forEach((v, i) => {
        if (Math.abs(v - wanted[p][i]) > 1e-6) throw new Error(`plane ${p} pixel ${i}: ${v} and ${wanted[p][i]}`);
      }),
    );
    expect(image.cards.some((card) => card.key === 'HISTORY' && card.comment?.includes('Strand OIII'))).toBe(true);
    const report = JSON.parse(await readFile(file('report.json'), 'utf8'));
    expect(report.measured['strands[1].steps[0]']).toMatchObject({ method: 'levels' });
    expect(report.nodes.map((node: { id: string }) => node.id)).toContain('cloth.layers[0].steps[0]');
    expect(report.peakMemory).toBeGreaterThan(1e7);
  });

  it('gives the same in many small bands where steps look far around, turn the picture and measure it', async () => {
    const far = recipeOf(
      [
        {
          id: 'Ha',
          from: { stack: 'Ha' },
          steps: [
            { do: 'gradient', model: 'polynomial' },
            { do: 'denoise', scales: 5 },
          ],
        },
        {
          id: 'OIII',
          from: { stack: 'OIII' },
          steps: [
            { do: 'place', degrees: 11, dx: 4.5 },
            { do: 'linear-fit', to: 'Ha', method: 'levels' },
            { do: 'blur', radius: 9 },
          ],
        },
        {
          id: 'turned',
          from: { stack: 'Ha' },
          steps: [
            { do: 'place', turn: 90 },
            { do: 'structures', from: 4, to: 64, residual: true },
          ],
        },
        {
          id: 'F',
          from: { formula: 'red = Ha\ngreen = OIII + 0.1 * (Ha - sky(Ha))\nblue = turned / mean(turned)' },
          steps: [{ do: 'denoise' }],
        },
      ],
      { layers: [{ id: 'base', of: { strand: 'F' }, steps: [{ do: 'stretch', colour: 'unlinked' }] }] },
    );
    await writeFile(file('far.json'), JSON.stringify(far));
    const { code, err } = await loom('render', 'far.json', ...given, '--out', 'far.fits', '--memory', '12');
    expect(err).not.toMatch(/wrong/);
    expect(code).toBe(0);
    const { planes } = await read('far.fits');
    const wanted = evaluateRecipe(far, stacks).raster.planes;
    planes.forEach((plane, p) =>
      plane.forEach((v, i) => {
        const w = wanted[p][i];
        if (!(Math.abs(v - w) <= 2e-6) && (v === v || w === w)) throw new Error(`plane ${p} pixel ${i}: ${v} and ${w}`);
      }),
    );
  });

  it('writes PNG and TIFF within one unit of the last place, the right way up, with a profile', async () => {
    const wanted = evaluateRecipe(recipe, stacks).raster.planes;
    const expected = (x: number, y: number, p: number) =>
      Math.min(1, Math.max(0, wanted[p][(height - 1 - y) * width + x] || 0));
    for (const name of ['cloth.png', 'cloth.tif']) {
      expect((await loom('render', 'recipe.json', ...given, '--out', name)).code).toBe(0);
      const meta = await sharp(file(name)).metadata();
      expect([meta.width, meta.height, meta.depth, meta.channels, meta.icc !== undefined]).toEqual([
        width,
        height,
        'ushort',
        3,
        true,
      ]);
      // Without its profile, or the codec would convert the samples on reading.
      const bytes = await sharp(await readFile(file(name)), { ignoreIcc: true } as never)
        .toColourspace('rgb16')
        .raw({ depth: 'ushort' })
        .toBuffer();
      const samples = new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.length / 2);
      let worst = 0;
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++)
          for (let p = 0; p < 3; p++)
            worst = Math.max(worst, Math.abs(samples[(y * width + x) * 3 + p] - 65535 * expected(x, y, p)));
      expect(worst).toBeLessThanOrEqual(1);
    }
  });

  it('writes 32-bit TIFF with the very numbers, 8-bit PNG and JPEG near them', async () => {
    await loom('render', 'recipe.json', ...given, '--node', 'OIII', '--out', 'line.tif', '--depth', '32');
    const meta = await sharp(file('line.tif')).metadata();
    expect([meta.depth, meta.channels, meta.icc]).toEqual(['float', 1, undefined]);
    // One uncompressed strip after the eight bytes of the header, as its fields say; the codec's own reader would convert the numbers.
    const raw = await readFile(file('line.tif'));
    const values = Float32Array.from({ length: width * height }, (_, i) => raw.readFloatLE(8 + 4 * i));
    const wanted = evaluateRecipe(recipe, stacks, 'strands[1]').raster.planes[0];
    expect(values[0]).toBe(0);
    for (const [x, y] of [
      [50, 3],
      [300, 200],
      [8, 100],
    ])
      expect(values[(height - 1 - y) * width + x]).toBeCloseTo(wanted[y * width + x], 6);
    for (const name of ['small.png', 'small.jpg']) {
      expect((await loom('render', 'recipe.json', ...given, '--out', name, '--depth', '8')).code).toBe(0);
      const small = await sharp(file(name)).metadata();
      expect([small.depth, small.channels, small.icc !== undefined]).toEqual(['uchar', 3, true]);
    }
  });

  it('writes a linear picture without a profile', async () => {
    await loom('render', 'recipe.json', ...given, '--node', 'Ha', '--out', 'ha.png');
    const meta = await sharp(file('ha.png')).metadata();
    expect([meta.depth, meta.channels, meta.icc]).toEqual(['ushort', 1, undefined]);
  });

  it('cuts the cloth to its extent, moves the reference pixel with it, and turns it', async () => {
    await writeFile(file('cut.json'), JSON.stringify({ ...recipe, cloth: { ...recipe.cloth, extent: 'common' } }));
    await loom('render', 'cut.json', ...given, '--out', 'cut.fits');
    const cut = await read('cut.fits');
    expect([cut.image.width, cut.image.height]).toEqual([width - 7, height]);
    expect(cut.image.cards.find((card) => card.key === 'CRPIX1')?.value).toBe(93);
    const turn = recipeOf([{ id: 'Ha', from: { stack: 'Ha' }, steps: [] }], {
      layers: [{ of: { strand: 'Ha' } }],
      extent: { x: 10, y: 20, width: 5, height: 3 },
      orient: { turn: 90 },
    });
    await writeFile(file('turn.json'), JSON.stringify(turn));
    await loom('render', 'turn.json', '--stack', 'Ha=Ha.fits', '--out', 'turn.fits');
    const { image, planes } = await read('turn.fits');
    expect([image.width, image.height]).toEqual([3, 5]);
    // Counter-clockwise: the right end of the lowest row becomes the top of the right column.
    expect(planes[0][4 * 3 + 2]).toBe(stacks.Ha.planes[0][20 * width + 14]);
    expect(image.cards.some((card) => card.key === 'CRPIX1')).toBe(false);
  });

  it('reads a gzipped stack, and one that runs from the top down', async () => {
    await writeFile(file('packed.fits.gz'), gzipSync(bytesOf(stacks.Ha)));
    await writeFile(file('down.fits'), bytesOf(stacks.Ha, [], true));
    const plain = await readFile(file('Ha.fits'));
    expect(plain.length).toBeGreaterThan(0);
    for (const name of ['packed.fits.gz', 'down.fits']) {
      expect(
        await loom(
          'render',
          'recipe.json',
          '--stack',
          `Ha=${name}`,
          '--stack',
          'OIII=OIII.fits',
          '--node',
          'Ha',
          '--out',
          'again.fits',
        ),
      ).toMatchObject({ code: 0 });
      const { image, planes } = await read('again.fits');
      expect(textOf(image.cards, 'ROWORDER')).toBe(name === 'down.fits' ? 'TOP-DOWN' : undefined);
      expect(Float32Array.from(planes[0])).toEqual(stacks.Ha.planes[0]);
    }
  });

  it('divides integers by their type, and floats that reach above 2 by 65535', async () => {
    const counts = { ...stacks.Ha, planes: [stacks.Ha.planes[0].map((v) => v * 65535)] };
    await writeFile(file('counts.fits'), bytesOf(counts));
    await loom(
      'render',
      'recipe.json',
      '--stack',
      'Ha=counts.fits',
      '--stack',
      'OIII=OIII.fits',
      '--node',
      'Ha',
      '--out',
      'scaled.fits',
    );
    const { planes } = await read('scaled.fits');
    planes[0].forEach((v, i) => {
      if (Math.abs(v - stacks.Ha.planes[0][i]) > 2e-7) throw new Error(`pixel ${i}`);
    });
  });

  it('meets stacks of different sizes in the frame, with a warning', async () => {
    await writeFile(file('small.fits'), bytesOf(mono(20, 10, () => 0.5)));
    const { code, err } = await loom(
      'render',
      'recipe.json',
      '--stack',
      'Ha=Ha.fits',
      '--stack',
      'OIII=small.fits',
      '--node',
      'OIII',
      '--out',
      'met.fits',
    );
    expect(code).toBe(1);
    expect(err).toMatch(/is constant in this region/);
    const plain = recipeOf(
      [
        { id: 'Ha', from: { stack: 'Ha' }, steps: [] },
        { id: 'OIII', from: { stack: 'OIII' }, steps: [] },
      ],
      { layers: [{ of: { mix: { red: { Ha: 1 }, green: { OIII: 1 }, blue: { OIII: 1 } } } }] },
    );
    await writeFile(file('plain.json'), JSON.stringify(plain));
    const met = await loom(
      'render',
      'plain.json',
      '--stack',
      'Ha=Ha.fits',
      '--stack',
      'OIII=small.fits',
      '--out',
      'met.fits',
    );
    expect(met.code).toBe(0);
    expect(met.err).toMatch(/OIII is 20 × 10 px, the frame of Ha 331 × 217 px/);
  });
});
