import { setTimeout as delay } from 'node:timers/promises';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { measurementsRequiredBy } from '@owl-loom/engine/measurement-plan';
import { encodeFits } from '@owl-loom/image/fits/write';
import { randomFrom } from '@owl-loom/testing/random';
import { recipeOf, strand } from '@owl-loom/testing/evaluate-recipe';

import { GraphExecutor } from './graph-executor';
import { WorkerPool } from '../workers/worker-pool';
import type { Measuring } from './run-options';
import { buildGraphInput } from './build-graph-input';
import type { OpenStack } from '../pixels/open-stack';
import { openStack } from './stack';

const [width, height] = [300, 220];
let dir: string;
let pool: WorkerPool;
const stacks = new Map<string, OpenStack>();

beforeAll(async () => {
  dir = await mkdtemp(join(tmpdir(), 'owl-loom-executor-'));
  pool = new WorkerPool({ threads: 2 });
  const random = randomFrom(41);
  const shape = Float32Array.from({ length: width * height }, () => random.next() ** 6);
  for (const [name, times] of [
    ['Ha', 1],
    ['OIII', 0.4],
    ['SII', 0.2],
    ['Flat', 0],
  ] as const) {
    const plane = shape.map((v) => 0.1 + times * v + (times > 0 ? 0.01 * random.next() : 0));
    const parts: Uint8Array[] = [];
    for await (const part of encodeFits({ width, height, planes: [plane], own: [] })) parts.push(part);
    const path = join(dir, `${name}.fits`);
    await writeFile(path, Buffer.concat(parts));
    stacks.set(name, await openStack(pool, path));
  }
});
afterAll(async () => {
  await pool.close();
  await rm(dir, { recursive: true, force: true });
});

/** Lines fitted to hydrogen, all of them laid into one colour picture that is stretched. */
const fitted = (...names: string[]) =>
  recipeOf(
    [
      { ...strand('Ha'), steps: [{ do: 'scale', multiply: 2 }] },
      ...names.map((id) => ({ ...strand(id), steps: [{ do: 'linear-fit', to: 'Ha' }] })),
    ],
    {
      layers: [
        {
          id: 'a',
          of: {
            mix: {
              red: { Ha: 1 },
              green: { [names[0]]: 1 },
              blue: Object.fromEntries(names.slice(1).map((id) => [id, 1])),
            },
          },
          steps: [{ do: 'stretch' }],
        },
      ],
    },
  );

describe('measuring a graph', () => {
  it('gives the same figures when images are made ahead, for the screen, as when they are not', async () => {
    const { graph, scene } = buildGraphInput(fitted('OIII', 'SII'), stacks);
    const node = graph.byPath.get('cloth') as number;
    const found = await Promise.all(
      [false, true].map(async (interactive) => {
        const executor = new GraphExecutor(pool, graph, scene, { interactive });
        await executor.measure(node);
        return executor.figures;
      }),
    );
    for (const { key } of measurementsRequiredBy(graph, node)) {
      expect(found[0].get(key)).toBeDefined();
      expect(found[1].get(key)).toEqual(found[0].get(key));
    }
  });

  it('tells which measurement is at work, each once and the last as the last', async () => {
    const { graph, scene } = buildGraphInput(fitted('OIII', 'SII'), stacks);
    const node = graph.byPath.get('cloth') as number;
    const told: Measuring[] = [];
    const executor = new GraphExecutor(pool, graph, scene, { onMeasuring: (now) => told.push(now) });
    await executor.measure(node);
    const numbers = told.map(({ number }) => number);
    expect(numbers).toEqual([...numbers].sort((a, b) => a - b));
    expect([numbers[0], numbers.at(-1)]).toEqual([1, told[0].of]);
    expect(new Set(told.map(({ of }) => of)).size).toBe(1);
    expect(told.map(({ spec }) => spec.kind)).toContain('fit');
    // What is known is not measured again, and nothing is told of it.
    told.length = 0;
    await executor.measure(node);
    expect(told).toEqual([]);
  });

  it('holds nothing any more when a figure cannot be had', async () => {
    const { graph, scene } = buildGraphInput(fitted('Flat', 'OIII', 'SII'), stacks);
    const node = graph.byPath.get('cloth') as number;
    for (const interactive of [false, true]) {
      const executor = new GraphExecutor(pool, graph, scene, { interactive });
      await expect(executor.measure(node)).rejects.toThrow(/is constant in this region/);
      await delay(100);
      pool.images.shrink(0);
      for (const { hash, extent } of graph.nodes) expect(pool.images.acquire(hash, extent)).toBeUndefined();
    }
  });
});
