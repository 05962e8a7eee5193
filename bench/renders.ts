import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { encodeFits } from '@owl-loom/image/fits/write';
import type { Recipe } from '@owl-loom/recipe/schema';
import { writeAtomically } from '../apps/server/system/write-atomically';
import { timedCommand } from './command';
import { madePlane, shortest } from './synthetic';

/** Three stacks, two fits, a mix and a stretch. */
export const THREE: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  strands: [
    { id: 'Ha', from: { stack: 'Ha' }, steps: [] },
    { id: 'OIII', from: { stack: 'OIII' }, steps: [{ do: 'linear-fit', to: 'Ha' }] },
    { id: 'SII', from: { stack: 'SII' }, steps: [{ do: 'linear-fit', to: 'Ha' }] },
  ],
  cloth: {
    layers: [
      {
        id: 'base',
        of: { mix: { red: { Ha: 0.7, SII: 0.3 }, green: { OIII: 0.8, Ha: 0.2 }, blue: { OIII: 1 } }, weights: 'share' },
        steps: [{ do: 'stretch' }],
      },
    ],
  },
};

/** Stacks of one size, as files by name. */
export interface Night {
  readonly width: number;
  readonly height: number;
  readonly files: Readonly<Record<string, string>>;
}

export interface FullRender {
  readonly megapixels: number;
  readonly seconds: number;
  /** Seconds of all threads together. */
  readonly processor: number;
  /** Times a copy of the input planes. */
  readonly overCopy: number;
  readonly nanosecondsPerPixel: number;
  readonly memoryOverInput: number;
}

/** A render by the command in a process of its own, files on disk in and out. */
export async function fullRender(dir: string, recipe: Recipe, { width, height, files }: Night): Promise<FullRender> {
  const [asked, report] = [join(dir, 'recipe.json'), join(dir, 'report.json')];
  await writeFile(asked, JSON.stringify(recipe));
  const stacks = Object.entries(files).flatMap(([name, file]) => ['--stack', `${name}=${file}`]);
  const out = join(dir, 'out.fits');
  const { seconds, processor } = await timedCommand(['render', asked, ...stacks, '--out', out, '--report', report]);
  const { peakMemory } = JSON.parse(await readFile(report, 'utf8')) as { peakMemory: number };
  const planes = Object.keys(files).length;
  const from = new Float32Array(width * height).fill(0.5);
  const to = new Float32Array(width * height).fill(1);
  const copy = planes * shortest(3, () => to.set(from));
  return {
    megapixels: (width * height) / 1e6,
    seconds,
    processor,
    overCopy: (1000 * seconds) / copy,
    nanosecondsPerPixel: (seconds * 1e9) / (width * height),
    memoryOverInput: peakMemory / (width * height * 4 * planes),
  };
}

/** Three stacks without stars, quick to make at any size. */
export async function madeNight(dir: string, width: number, height: number): Promise<Night> {
  const files: Record<string, string> = {};
  for (const [i, name] of ['Ha', 'OIII', 'SII'].entries()) {
    files[name] = join(dir, `${name}.fits`);
    await writeAtomically(files[name], encodeFits({ width, height, planes: [madePlane(width, height, i + 1)] }));
  }
  return { width, height, files };
}
