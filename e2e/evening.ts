import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encodeFits } from '@owl-loom/image/fits/write';
import type { Recipe } from '@owl-loom/recipe/schema';
import { addNoise, scene } from '@owl-loom/testing/random';
import { requestJson, json } from '../apps/server/http/request-json';
import { type RunningServer, startAll } from '../apps/server/main/start';
import { HOME } from '../apps/server/system/home';
import { PageDriver } from './hand';

process.env.LOOM_LOG = 'silent';

/** A made stack as a file, an hour through a filter. */
export const stackFile = (filter: string, plane: Float32Array, width: number, height: number): Buffer =>
  Buffer.concat([
    ...encodeFits({
      width,
      height,
      planes: [plane],
      own: [
        { key: 'FILTER', value: filter },
        { key: 'EXPTIME', value: 3600 },
      ],
    }),
  ]);

/** Three lines of one made field, each with noise of its own, the second upside down, the third of another place. */
export const threeLines = (seed: number, width: number, height: number): Record<string, Float32Array> => {
  const of = scene(seed, width, height, { clouds: 0.05 });
  return {
    Ha: addNoise(of, 0, 1, 0.0008, 4),
    OIII: addNoise(of.slice().reverse(), 0.004, 0.3, 0.0004, 5),
    SII: addNoise(scene(seed + 1, width, height), 0.002, 0.2, 0.0004, 6),
  };
};

/** A tie-up of three lines, stretched. */
export const lineRecipe: Recipe = {
  format: 'owl-loom-recipe',
  version: 1,
  name: 'Layers',
  strands: ['Ha', 'OIII', 'SII'].map((id) => ({ id, from: { stack: id }, steps: [] })),
  cloth: {
    layers: [
      {
        id: 'base',
        of: { mix: { red: { SII: 1 }, green: { Ha: 1 }, blue: { OIII: 1 } }, weights: 'share' },
        steps: [{ do: 'stretch' }],
      },
    ],
  },
};

/** Owl Loom with the built page on an empty folder, and a person before it. */
export class AppFixture {
  private constructor(
    readonly root: string,
    readonly running: RunningServer,
    readonly hand: PageDriver,
  ) {}

  static async begin(): Promise<AppFixture> {
    const root = await mkdtemp(join(tmpdir(), 'owl-loom-e2e-'));
    const running = await startAll({ root, port: 0, web: join(HOME, 'dist/web'), gentle: false });
    return new AppFixture(root, running, await PageDriver.open());
  }

  /** Brings stacks in by the inbox, makes a recipe of them, and opens it in the Loom. */
  async weave(
    planes: Readonly<Record<string, Float32Array>>,
    { width, height }: { width: number; height: number },
    recipe: Recipe,
  ): Promise<{ targetId: string; recipeId: string }> {
    const { address } = this.running;
    const files = Object.entries(planes).map(([filter, plane]) => ({ filter, plane, name: `night_${filter}.fits` }));
    for (const { name, filter, plane } of files)
      await writeFile(join(this.root, 'inbox', name), stackFile(filter, plane, width, height));
    const targetId = (await requestJson<{ id: string }>(address, '/targets', json('POST', { name: 'Night' }))).id;
    await requestJson(address, `/targets/${targetId}/inbox`, json('POST', { files: files.map(({ name }) => name) }));
    await this.hand.until(
      'the stacks',
      async () => (await requestJson<unknown[]>(address, `/targets/${targetId}/stacks`)).length === files.length,
    );
    const made = await requestJson<{ id: string }>(
      address,
      `/targets/${targetId}/recipes`,
      json('POST', { body: recipe }),
    );
    await this.hand.page.goto(`${address}/targets/${targetId}/loom/${made.id}`);
    await this.hand.page.waitForSelector('[data-shown="cloth"]');
    return { targetId, recipeId: made.id };
  }

  /** Another person, in a browser of their own. */
  another(): Promise<PageDriver> {
    return PageDriver.open();
  }

  async end(): Promise<void> {
    await this.hand.close();
    await this.running.stop();
    await rm(this.root, { recursive: true, force: true });
  }
}
