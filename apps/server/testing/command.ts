import { type ExecFileOptions, execFile } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { encodeFits } from '@owl-loom/image/fits/write';
import { addNoise, scene } from '@owl-loom/testing/random';
import { recipeOf, type TestStack } from '@owl-loom/testing/evaluate-recipe';
import { HOME } from '../system/home';

/** Size of the two stacks. */
export const [width, height] = [331, 217];
let dir: string;
/** A file of the folder in which the command runs. */
export const file = (name: string) => join(dir, name);

interface Ran {
  code: number;
  out: string;
  err: string;
}

/** The command as built, run as people run it. */
export const loom = (...args: string[]): Promise<Ran> => run(args, { cwd: dir });

/** The same, on a data folder. */
export const loomOn = (data: string, ...args: string[]): Promise<Ran> =>
  run(args, { cwd: tmpdir(), env: { ...process.env, LOOM_DATA: data } });

async function run(args: string[], how: ExecFileOptions): Promise<Ran> {
  try {
    const { stdout, stderr } = await promisify(execFile)(
      process.execPath,
      [join(HOME, 'dist/server/cli.js'), ...args],
      { ...how, encoding: 'utf8' },
    );
    return { code: 0, out: stdout, err: stderr };
  } catch (error) {
    const { code, stdout, stderr } = error as { code: number; stdout: string; stderr: string };
    return { code, out: stdout, err: stderr };
  }
}

/** A stack as a file's bytes. */
export const bytesOf = (stack: TestStack, own: { key: string; value: string | number }[] = [], topDown = false) =>
  Buffer.concat([...encodeFits({ width: stack.width, height: stack.height, planes: stack.planes, own, topDown })]);
/** The two stacks that lie in the folder. */
export const stacks: Record<string, TestStack> = {};
/** What `recipe.json` of the folder holds. */
export const recipe = recipeOf(
  [
    { id: 'Ha', from: { stack: 'Ha' }, steps: [] },
    { id: 'OIII', from: { stack: 'OIII' }, steps: [{ do: 'linear-fit', to: 'Ha' }] },
  ],
  {
    layers: [
      {
        id: 'base',
        of: {
          mix: { red: { Ha: 1 }, green: { OIII: 0.7, Ha: 0.3 }, blue: { OIII: 1 } },
          weights: 'share',
          gain: { OIII: 1.4 },
        },
        steps: [{ do: 'stretch' }],
      },
      {
        id: 'glow',
        of: { strand: 'Ha' },
        steps: [{ do: 'stretch' }, { do: 'levels', black: 0.2 }, { do: 'tint', colour: '#ffb14a' }],
        blend: 'screen',
        opacity: 0.4,
      },
    ],
    steps: [{ do: 'levels', mid: 0.45 }],
  },
);
/** The two stacks, as the command is given them. */
export const given = ['--stack', 'Ha=Ha.fits', '--stack', 'OIII=OIII.fits'];

/** Makes the folder with two stacks, Ha and OIII, and a recipe of them. */
export async function openFolder(): Promise<void> {
  dir = await mkdtemp(join(tmpdir(), 'owl-loom-render-'));
  const of = scene(70, width, height);
  stacks.Ha = { width, height, planes: [addNoise(of, 0, 1, 0.0008, 1)] };
  stacks.OIII = { width, height, planes: [addNoise(of.slice().reverse(), 0.01, 0.3, 0.0004, 2)] };
  for (let y = 0; y < height; y++) stacks.OIII.planes[0].fill(Number.NaN, y * width, y * width + 7);
  await writeFile(
    file('Ha.fits'),
    bytesOf(stacks.Ha, [
      { key: 'FILTER', value: 'Ha' },
      { key: 'EXPTIME', value: 1200 },
      { key: 'CRPIX1', value: 100 },
      { key: 'CRPIX2', value: 50 },
    ]),
  );
  await writeFile(file('OIII.fits'), bytesOf(stacks.OIII));
  await writeFile(file('recipe.json'), JSON.stringify(recipe));
}

export const closeFolder = () => rm(dir, { recursive: true, force: true });
