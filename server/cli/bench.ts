import { execFile } from 'node:child_process';
import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { linearFit } from '../../core/fit/linear';
import { encodeFits } from '../../core/fits/write';
import { mixKernel } from '../../core/mix/mix';
import { newRaster, windowOf } from '../../core/raster/raster';
import type { Rect } from '../../core/raster/rect';
import type { Recipe } from '../../core/recipe/schema';
import { stretch } from '../../core/steps/stretch';
import { toneOf } from '../../core/stats/tone';
import { Random } from '../../demo/random';
import { sliderTimes } from '../../e2e/slider';
import { fillDemo } from '../demo';
import { writeWhole } from '../io/write';
import { Pool } from '../render/pool';
import { startAll } from '../start';
import { HOME, dataDir } from '../system/home';
import { ensurePrograms } from '../system/packages';
import { starScore } from './bench-stars';
import { EXPECTED, stepKernels } from './bench-steps';
import { TEST_PROGRAMS } from './programs';

const say = (line: string): void => {
  process.stderr.write(`${line}\n`);
};

/** The shortest of a few runs, in milliseconds. */
function shortest(runs: number, work: () => void): number {
  let best = Number.POSITIVE_INFINITY;
  for (let i = 0; i < runs; i++) {
    const start = performance.now();
    work();
    best = Math.min(best, performance.now() - start);
  }
  return best;
}

/** A made plane: a sloping sky with noise and lumps; quick to make at any size. */
function madePlane(width: number, height: number, seed: number): Float32Array {
  const random = new Random(seed);
  // Noise from a table: drawing sixty million normals would take longer than all that is measured.
  const table = Float32Array.from({ length: 65_537 }, () => 0.0006 * random.normal());
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const shift = Math.floor(random.next() * 65_537);
    for (let x = 0; x < width; x++) {
      const lump = Math.sin(x * 0.0021 + seed) * Math.sin(y * 0.0017 - seed);
      out[y * width + x] = 0.02 + 0.000001 * x + 0.03 * (lump > 0 ? lump * lump : 0) + table[(x + shift) % 65_537];
    }
  }
  return out;
}

/** Single kernels on one core, as multiples of a plain copy of the same three planes. */
function kernels(): Record<string, number> {
  const rect = { x: 0, y: 0, width: 3000, height: 2000 };
  const planes = [1, 2, 3].map((seed) => madePlane(rect.width, rect.height, seed));
  const out = newRaster(rect, 3);
  const copy = shortest(5, () => planes.forEach((plane, p) => out.planes[p].set(plane)));
  const inputs = planes.map((plane) => ({ rect, planes: [plane] }));
  const mix = mixKernel({
    columns: [
      [1, 0.2, 0],
      [0.3, 0.7, 0.1],
      [0, 0.4, 1],
    ],
    share: true,
    gains: [1, 1, 1].map((gain) => ({ gain, sky: [0] })),
  });
  const place = {
    input: { node: 0, planes: 3 as const, domain: 'linear' as const, extent: rect },
    others: [],
    origin: rect,
    frame: rect,
    path: '',
    derive: () => {
      throw new Error('a stretch needs no image on its way');
    },
  };
  const stretched = stretch
    .build?.({ curve: 'asinh', black: 0.01, white: 1, strength: 100, target: 0.16, colour: 'linked' }, place)
    .kernel.bind([], 0);
  if (!stretched) throw new Error('the stretch does nothing');
  const [reference, target] = planes;
  // Strip by strip, as the engine runs them.
  const strips = Array.from(
    { length: Math.ceil(rect.height / 3) },
    (_, i): Rect => ({ x: 0, y: 3 * i, width: rect.width, height: Math.min(3, rect.height - 3 * i) }),
  );
  const part = (from: readonly Float32Array[], strip: Rect) => ({
    rect: strip,
    planes: from.map((plane) => windowOf(plane, rect, strip)),
  });
  return {
    mix:
      shortest(4, () =>
        strips.forEach((s) =>
          mix(
            inputs.map((input) => part(input.planes, s)),
            part(out.planes, s),
            () => undefined,
          ),
        ),
      ) / copy,
    stretch:
      shortest(4, () => strips.forEach((s) => stretched([part(planes, s)], part(out.planes, s), () => undefined))) /
      copy,
    tone: shortest(2, () => void toneOf(reference, rect)) / (copy / 3),
    linearFit:
      shortest(2, () => void linearFit({ reference, target, width: rect.width, height: rect.height }, 'levels')) /
      (copy * (2 / 3)),
  };
}

/** The heavy parts of the linear steps at 24 megapixels. */
function stepsOverCopy(): Record<string, number> {
  const rect = { x: 0, y: 0, width: 6000, height: 4000 };
  const plane = madePlane(rect.width, rect.height, 9);
  const to = new Float32Array(plane.length).fill(1);
  const copy = shortest(5, () => to.set(plane));
  return stepKernels(plane, rect, copy, shortest);
}

const RECIPE: Recipe = {
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

interface FullRender {
  readonly megapixels: number;
  readonly seconds: number;
  /** Times a copy of the three input planes. */
  readonly overCopy: number;
  readonly nanosecondsPerPixel: number;
  readonly memoryOverInput: number;
}

/** A render by the command in a process of its own, files on disk in and out. */
async function fullRender(
  dir: string,
  width: number,
  height: number,
  files: Readonly<Record<string, string>>,
): Promise<FullRender> {
  const started = performance.now();
  const stacks = Object.entries(files).flatMap(([name, file]) => ['--stack', `${name}=${file}`]);
  await promisify(execFile)(process.execPath, [
    join(HOME, 'dist/server/cli.js'),
    'render',
    join(dir, 'recipe.json'),
    ...stacks,
    '--out',
    join(dir, 'out.fits'),
    '--report',
    join(dir, 'report.json'),
  ]);
  const seconds = (performance.now() - started) / 1000;
  const { peakMemory } = JSON.parse(await readFile(join(dir, 'report.json'), 'utf8')) as { peakMemory: number };
  const from = [1, 2, 3].map(() => new Float32Array(width * height).fill(0.5));
  const to = from.map((plane) => new Float32Array(plane.length).fill(1));
  const copy = shortest(3, () => from.forEach((plane, p) => to[p].set(plane)));
  return {
    megapixels: (width * height) / 1e6,
    seconds,
    overCopy: (1000 * seconds) / copy,
    nanosecondsPerPixel: (seconds * 1e9) / (width * height),
    memoryOverInput: peakMemory / (width * height * 12),
  };
}

async function made(dir: string, width: number, height: number): Promise<FullRender> {
  const files: Record<string, string> = {};
  for (const [i, name] of ['Ha', 'OIII', 'SII'].entries()) {
    files[name] = join(dir, `${name}.fits`);
    await writeWhole(files[name], encodeFits({ width, height, planes: [madePlane(width, height, i + 1)] }));
  }
  return fullRender(dir, width, height, files);
}

const round = (value: number): number => Number(value.toPrecision(3));

function table(title: string, rows: readonly Record<string, number>[]): string {
  const [first] = rows;
  const keys = Object.keys(first);
  const lines = rows.map((row) =>
    keys.map((key) => String(round(row[key])).padStart(Math.max(10, key.length))).join('  '),
  );
  return [title, keys.map((key) => key.padStart(Math.max(10, key.length))).join('  '), ...lines].join('\n');
}

export async function run(): Promise<void> {
  ensurePrograms(TEST_PROGRAMS, say);
  const dir = join(dataDir(), 'bench');
  await rm(dir, { recursive: true, force: true });
  await mkdir(dir, { recursive: true });
  await writeFile(join(dir, 'recipe.json'), JSON.stringify(RECIPE));

  say('Single kernels …');
  const single = kernels();
  say('Steps of the linear half …');
  const steps = stepsOverCopy();
  const renders: FullRender[] = [];
  for (const [width, height] of [
    [3000, 2000],
    [6000, 4000],
    [10_000, 6000],
  ]) {
    say(`A render of ${(width * height) / 1e6} megapixels …`);
    renders.push(await made(dir, width, height));
  }
  say('The page …');
  const running = await startAll({ root: join(dataDir(), 'shots'), port: 0 });
  try {
    await fillDemo(running, say);
    const demo = join(dataDir(), 'shots/demo/lantern-moth/lantern-moth_');
    const moth = await fullRender(dir, 1800, 1200, {
      Ha: `${demo}Ha.fits`,
      OIII: `${demo}OIII.fits`,
      SII: `${demo}SII.fits`,
    });
    const slider = await sliderTimes(running.address);
    const folder = join(dataDir(), 'shots/demo/lantern-moth');
    const stars = [];
    const pool = new Pool();
    for (const filter of ['R', 'Ha', 'OIII'])
      stars.push(await starScore(pool, folder, `lantern-moth_${filter}.fits`, filter));
    await pool.close();
    const result = {
      machine: { cores: cpus().length, model: cpus()[0]?.model ?? 'unknown' },
      kernelsOverCopy: Object.fromEntries(Object.entries(single).map(([key, value]) => [key, round(value)])),
      stepsOverCopy: Object.fromEntries(Object.entries(steps).map(([key, value]) => [key, round(value)])),
      stepsExpected: EXPECTED,
      demoRender: moth,
      madeRenders: renders,
      flatness: round(renders[2].nanosecondsPerPixel / renders[0].nanosecondsPerPixel),
      sliderToPixelsMs: slider,
      stars,
    };
    process.stdout.write(`${JSON.stringify(result, null, 2)}\n`);
    say(table('\nKernels on one core, times a copy of the same planes', [single]));
    say(
      table('\nSteps on one core and 24 megapixels, times a copy of the plane; below, what is expected', [
        steps,
        EXPECTED,
      ]),
    );
    say(
      table(
        '\nRenders from files to file, all cores (the first is the demo)',
        [moth, ...renders].map((row) => ({ ...row })),
      ),
    );
    say(table('\nSlider to pixels in the page, ms', [{ ...slider }]));
    say(
      table(
        '\nStars of the Lantern Moth in R, Ha and OIII against its truth',
        stars.map(({ filter: _, ...score }) => score),
      ),
    );
  } finally {
    await running.stop();
    await rm(dir, { recursive: true, force: true });
  }
}
