import { readFileSync } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { UserError } from '@owl-loom/base/errors';
import { requestJson, json } from '../apps/server/http/request-json';
import { TEST_PROGRAMS } from '../apps/server/cli/programs';
import { fillDemo } from '../apps/server/cli/demo';
import { WorkerPool } from '../apps/server/workers/worker-pool';
import { type RunningServer, startAll } from '../apps/server/main/start';
import { type Address, addressOf } from '../apps/server/system/address';
import { dataDir } from '../apps/server/system/home';
import { ensurePrograms } from '../apps/server/system/packages';
import { COMMAND, freePort, ServerProcess } from '../apps/server/testing/server-process';
import { fieldScores } from './fields';
import { coloursOverCopy, kernels, stepsOverCopy } from './kernels';
import { blendsOverCopy, SIX, starlessTimes } from './layers';
import { largeNight, SEVEN, unmeasured } from './large-session';
import { importNight } from './import';
import { firstLoad, openingTimes } from './page';
import { type FullRender, fullRender, madeNight, type Night, THREE } from './renders';
import { sheetTimes } from './sheet';
import { strokesOf } from './stroke';
import { slidersOf } from './slider';
import { starScore } from './stars';
import { EXPECTED } from './steps';

const say = (line: string): void => {
  process.stderr.write(`${line}\n`);
};

const rounded = (value: unknown): unknown =>
  typeof value === 'number'
    ? Number(value.toPrecision(3))
    : Array.isArray(value)
      ? value.map(rounded)
      : value && typeof value === 'object'
        ? Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, rounded(inner)]))
        : value;

/** Rows as a table for people. */
function tell(title: string, rows: readonly object[]): void {
  const cells = rows.map((row) => Object.entries(row).map(([key, value]) => [key, String(rounded(value))] as const));
  const widths = cells[0].map(([key], c) => Math.max(key.length, ...cells.map((row) => row[c][1].length)));
  const line = (texts: readonly string[]) => texts.map((text, c) => text.padStart(widths[c])).join('  ');
  say(
    [`\n${title}`, line(cells[0].map(([key]) => key)), ...cells.map((row) => line(row.map(([, v]) => v)))].join('\n'),
  );
}

/** What parts share: a place for files, and an Owl Loom filled with the demo. */
interface Bench {
  readonly dir: string;
  readonly demo: () => Promise<RunningServer>;
}

const LARGE = [6000, 4000] as const;
/** The knot that is moved. */
const KNOT = 'OIII in green';

/** Takes away a recipe that was made for a measurement, for good. */
async function removed(address: string, recipe: string): Promise<void> {
  await requestJson(address, `/recipes/${recipe}`, { method: 'DELETE' });
  await requestJson(address, `/trash/recipe/${recipe}`, { method: 'DELETE' });
}

const demoFolder = (): string => join(dataDir(), 'shots/demo/lantern-moth');

async function withPool<T>(work: (pool: WorkerPool) => Promise<T>): Promise<T> {
  const pool = new WorkerPool();
  try {
    return await work(pool);
  } finally {
    await pool.close();
  }
}

/** Seconds that all threads of a process have had up to now. */
function processorOf(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'latin1').split(') ')[1].split(' ');
  // The system counts in hundredths, user's and its own.
  return (Number(fields[11]) + Number(fields[12])) / 100;
}

/** A server of its own, as people start it, while something is done with it. */
async function withServer<T>(root: string, work: (at: Address, processor: () => number) => Promise<T>): Promise<T> {
  const server = new ServerProcess(root, await freePort(), COMMAND);
  server.start();
  try {
    await server.ready();
    const [at, { pid }] = [await addressOf(root), server];
    if (!at || pid === undefined) throw new Error('the server has not said where it answers');
    return await work(at, () => processorOf(pid));
  } finally {
    await server.end('SIGTERM');
  }
}

/** A night brought in and worked on. */
async function nightOnPage(server: Address, processor: () => number, night: Night): Promise<object> {
  const { address } = server;
  const { target, times } = await importNight(server, 'Large', night);
  tell('Bringing them in', [times]);
  const sheet = await sheetTimes(address, target, processor);
  tell('A contact sheet of stacks that are imported already, seconds', [sheet]);
  const { recipe, times: opening } = await openingTimes(address, target, unmeasured());
  tell('Opening a recipe that nobody has measured, seconds', [opening]);
  const sliders = await slidersOf(address, { target, recipe, knot: KNOT });
  tell('Slider to pixels at 24 megapixels, ms: the whole picture, and 1:1', Object.values(sliders));
  const six = await requestJson<{ id: string }>(address, `/targets/${target}/recipes`, json('POST', { body: SIX }));
  const layered = await slidersOf(address, { target, recipe: six.id, knot: KNOT });
  tell('The same with six layers and three masks', Object.values(layered));
  const strokes = await strokesOf(address, { target, recipe: six.id, mask: 'masks[0]' });
  tell('Strokes on one of those masks, ms: the whole picture, and 1:1', Object.values(strokes));
  return { import: times, sheet, opening, sliders, layered, strokes };
}

/** The parts of the benchmark; each says what it found and gives it as JSON. */
const PARTS: Readonly<Record<string, (bench: Bench) => Promise<unknown>>> = {
  kernels: async () => {
    // First those that make planes as they go: memory that others have left in pieces is slower to get.
    const [steps, pointwise, colours] = [stepsOverCopy(), kernels(), coloursOverCopy()];
    tell('Kernels on one core and 24 megapixels, times a copy of the same planes', [pointwise]);
    tell('Steps on colours on one core and 24 megapixels, times a copy of the same planes', [colours]);
    tell('Steps on one core and 24 megapixels, times a copy of the plane; below, what is expected', [steps, EXPECTED]);
    return { pointwise, colours, steps, expected: EXPECTED };
  },
  layers: async ({ demo }) => {
    const [blends, starless] = [blendsOverCopy(), starlessTimes()];
    tell('Blends of two colour images on one core, times a copy of the same planes', [blends]);
    tell('Starless at 24 megapixels on one core, seconds', [starless]);
    const { address } = await demo();
    const targets = await requestJson<{ id: string; name: string }[]>(address, '/targets');
    const moth = targets.find(({ name }) => name === 'Lantern Moth');
    if (!moth) throw new Error('the demo is not there');
    const { id } = await requestJson<{ id: string }>(
      address,
      `/targets/${moth.id}/recipes`,
      json('POST', { body: SIX }),
    );
    const sliders = await slidersOf(address, { target: moth.id, recipe: id, knot: KNOT });
    tell('Slider to pixels with six layers and three masks, ms: the whole picture, and 1:1', Object.values(sliders));
    const strokes = await strokesOf(address, { target: moth.id, recipe: id, mask: 'masks[0]' });
    tell('Strokes on one of those masks, ms: the whole picture, and 1:1', Object.values(strokes));
    await removed(address, id);
    return { blends, starless, sliders, strokes };
  },
  renders: async ({ dir }) => {
    const rows: FullRender[] = [];
    for (const [width, height] of [[3000, 2000], LARGE, [10_000, 6000]]) {
      say(`A render of ${(width * height) / 1e6} megapixels …`);
      rows.push(await fullRender(dir, THREE, await madeNight(dir, width, height)));
    }
    const flatness = rows[2].nanosecondsPerPixel / rows[0].nanosecondsPerPixel;
    tell('Renders of three stacks from files to file, all cores', rows);
    return { rows, flatness };
  },
  night: async ({ dir, demo }) => {
    await demo();
    say('Seven stacks of 24 megapixels …');
    const night = await withPool((pool) => largeNight(pool, demoFolder(), join(dir, 'large'), LARGE));
    const weave = await fullRender(dir, SEVEN, night);
    tell('A weave of seven stacks, from files to file', [weave]);
    return {
      weave,
      ...(await withServer(join(dir, 'night'), (server, processor) => nightOnPage(server, processor, night))),
    };
  },
  page: async ({ demo }) => {
    const { address } = await demo();
    const targets = await requestJson<{ id: string; name: string; recipes: { id: string; name: string }[] }[]>(
      address,
      '/targets',
    );
    const moth = targets.find(({ name }) => name === 'Lantern Moth');
    if (!moth) throw new Error('the demo is not there');
    const loads = {
      shelf: await firstLoad(address, '/', 'a[href^="/targets/"]'),
      loom: await firstLoad(
        address,
        `/targets/${moth.id}/loom/${moth.recipes[0].id}`,
        '[data-testid="draft"] [data-path]',
      ),
    };
    tell('First load of the shelf and of the Loom: kB compressed, seconds until usable', [loads.shelf, loads.loom]);
    const { recipe, times: opening } = await openingTimes(address, moth.id, unmeasured());
    tell('Opening a recipe of the demo that nobody has measured, seconds', [opening]);
    const sliders = await slidersOf(address, { target: moth.id, recipe, knot: KNOT });
    tell('Slider to pixels at 2 megapixels, ms: the whole picture, and 1:1', Object.values(sliders));
    await removed(address, recipe);
    const gold = moth.recipes.find(({ name }) => name === 'Gold from green');
    if (!gold) throw new Error('the demo is not there');
    const ring = { target: moth.id, recipe: gold.id, chosen: 'cloth.steps[1]', knot: 'hue shift on the ring' };
    const hues = await slidersOf(address, ring);
    tell('Hue ring to pixels, its colours counted live, ms: the whole picture, and 1:1', Object.values(hues));
    const scope = { ...ring, chosen: 'cloth.steps[2]', knot: 'amount' };
    const saturation = await slidersOf(address, scope);
    tell('Saturation to pixels, the colours in view live, ms: the whole picture, and 1:1', Object.values(saturation));
    return { loads, opening, sliders, hues, saturation };
  },
  fields: async ({ demo }) => {
    await demo();
    const fields = fieldScores();
    tell('Stars of fields unlike the demo, against their truth', fields);
    const stars = await withPool(async (pool) => {
      const scores = [];
      for (const filter of ['R', 'Ha', 'OIII'])
        scores.push(await starScore(pool, demoFolder(), `lantern-moth_${filter}.fits`, filter));
      return scores;
    });
    tell('Stars of the Lantern Moth against its truth', stars);
    return { fields, demo: stars };
  },
};

/**
 * Runs the benchmark: JSON on stdout, tables on stderr.
 * @param asked names of parts; all of them where none is named
 */
export async function run(asked: readonly string[]): Promise<void> {
  const unknown = asked.find((name) => !PARTS[name]);
  if (unknown)
    throw new UserError('bench-part', `There is no part named ${unknown}; there are ${Object.keys(PARTS).join(', ')}.`);
  ensurePrograms(TEST_PROGRAMS, say);
  const dir = join(dataDir(), 'bench');
  await rm(dir, { recursive: true, force: true });
  await mkdir(dir, { recursive: true });
  let running: RunningServer | undefined;
  const demo = async (): Promise<RunningServer> => {
    if (running) return running;
    running = await startAll({ root: join(dataDir(), 'shots'), port: 0 });
    await fillDemo(running, say);
    return running;
  };
  try {
    const result: Record<string, unknown> = {
      machine: { cores: cpus().length, model: cpus()[0]?.model ?? 'unknown' },
    };
    for (const [name, part] of Object.entries(PARTS)) {
      if (asked.length > 0 && !asked.includes(name)) continue;
      say(`Measuring: ${name} …`);
      result[name] = await part({ dir, demo });
    }
    process.stdout.write(`${JSON.stringify(rounded(result), null, 2)}\n`);
  } finally {
    await running?.stop();
    await rm(dir, { recursive: true, force: true });
  }
}
