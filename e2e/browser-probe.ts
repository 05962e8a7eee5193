import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Page } from 'puppeteer-core';
import { HOME } from '../apps/server/system/home';

/** What a worker of the built page is told before it is asked: all of it goes through as it is. */
interface Told {
  readonly recipe: unknown;
  readonly stacks: unknown;
  readonly figures: unknown;
}

/** The values of the cloth at pixels of full size, as a worker of the built page computes them in the browser. */
export async function probedInBrowser(
  page: Page,
  told: Told,
  points: readonly { readonly x: number; readonly y: number }[],
): Promise<number[][]> {
  const worker = (await readdir(join(HOME, 'dist/web/assets'))).find((name) => /^loom\.worker.*\.js$/.test(name));
  return page.evaluate(
    async (script, { recipe, stacks, figures }, places) => {
      const inner = new Worker(`/assets/${script}`, { type: 'module' });
      const ask = (id: number, request: unknown) =>
        new Promise<Record<string, number[]>>((resolve, reject) => {
          inner.addEventListener('message', ({ data }: MessageEvent) => {
            if (data.id === id) 'fault' in data ? reject(new Error(data.fault)) : resolve(data.ok);
          });
          inner.postMessage({ id, request });
        });
      await ask(1, { type: 'scene', recipe, stacks });
      await ask(2, { type: 'figures', figures });
      const values: number[][] = [];
      for (let i = 0; i < places.length; i++)
        values.push((await ask(3 + i, { type: 'probe', ...places[i], paths: ['cloth'] })).cloth);
      inner.terminate();
      return values;
    },
    worker,
    told,
    points,
  );
}
