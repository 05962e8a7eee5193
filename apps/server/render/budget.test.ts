import { readFile, writeFile } from 'node:fs/promises';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Step } from '@owl-loom/recipe/schema';
import { seen, spiral, turned } from '@owl-loom/testing/fields';
import { recipeOf, strand } from '@owl-loom/testing/evaluate-recipe';
import { bytesOf, closeFolder, file, loom, openFolder } from '../testing/command';

const [width, height] = [460, 320];
/** Enough for these pictures in narrow bands, a fifth of what they take when they are free to. */
const NARROW = '7';

beforeAll(async () => {
  await openFolder();
  const field = spiral(3, width, height);
  const views = {
    sharp: { fwhm: 2.2, noise: 0.0008, seed: 5, map: turned(width, height, 1.3, 1, 4, -3) },
    soft: { fwhm: 3.4, noise: 0.001, seed: 6 },
  };
  for (const [name, view] of Object.entries(views))
    await writeFile(file(`${name}.fits`), bytesOf({ width, height, planes: [seen(field, 'L', view)] }));
});
afterAll(closeFolder);

/** What is written is the pixels alone, so that bytes can be compared. */
const rendered = async (name: string, memory: string): Promise<Buffer> => {
  const out = `out-${memory}.fits`;
  const given = ['sharp', 'soft'].flatMap((stack) => ['--stack', `${stack}=${stack}.fits`]);
  const { code, err } = await loom('render', name, ...given, '--node', 'sharp', '--out', out, '--memory', memory);
  if (code !== 0) throw new Error(err);
  // The header holds when it was written.
  const bytes = await readFile(file(out));
  const header = 2880 * Math.ceil((bytes.indexOf('END'.padEnd(80)) + 80) / 2880);
  return bytes.subarray(header, header + 4 * width * height);
};

it.each<[string, Step[]]>([
  [
    'stars made smaller in what was softened to another seeing',
    [{ do: 'match-seeing', to: 'soft' }, { do: 'star-shrink' }],
  ],
  [
    'what was turned, softened and had its stars taken out',
    [{ do: 'align', to: 'soft' }, { do: 'match-seeing', to: 'soft' }, { do: 'starless' }, { do: 'denoise', scales: 5 }],
  ],
])('%s is the same to the bit under any budget of memory', async (_, steps) => {
  const recipe = recipeOf([{ ...strand('sharp'), steps }, strand('soft')], { layers: [{ of: { strand: 'sharp' } }] });
  await writeFile(file('bands.json'), JSON.stringify(recipe));
  const [narrow, free] = [await rendered('bands.json', NARROW), await rendered('bands.json', '500')];
  expect(free.byteLength).toBe(4 * width * height);
  expect(narrow.equals(free)).toBe(true);
});
