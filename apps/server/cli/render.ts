import { UserError } from '@owl-loom/base/errors';
import { writeAtomically } from '../system/write-atomically';
import { depthOf, encode, formatOf } from '../export/export';
import { WorkerPool } from '../workers/worker-pool';
import { render } from '../render/render';
import type { OpenStack } from '../pixels/open-stack';
import { openStack } from '../render/stack';
import { namedFiles, positive } from './options';
import { readRecipe } from './recipe-file';

interface RenderOptions {
  readonly stack: string[];
  readonly out: string;
  readonly depth?: string;
  readonly node?: string;
  readonly stretched: string[];
  readonly memory?: string;
  readonly report?: string;
}

export async function run(recipePath: string, options: RenderOptions): Promise<void> {
  const format = formatOf(options.out);
  const depth = depthOf(format, options.depth === undefined ? undefined : positive(options.depth, '--depth'));
  const memory = options.memory === undefined ? undefined : positive(options.memory, '--memory') * 2 ** 20;
  const recipe = await readRecipe(recipePath);
  const files = namedFiles(options.stack);
  for (const name of options.stretched) {
    if (!files.has(name)) throw new UserError('bad-option', `--stretched names ${name}, which no --stack gives.`);
  }
  const pool = new WorkerPool({ aside: false });
  try {
    const opened = [...files].map(
      async ([name, path]): Promise<[string, OpenStack]> => [
        name,
        await openStack(pool, path, options.stretched.includes(name) ? 'stretched' : undefined),
      ],
    );
    const stacks = new Map(await Promise.all(opened));
    const rendered = await render(pool, recipe, stacks, options.node, { memory });
    for (const { path, message } of rendered.report.warnings) process.stderr.write(`warning: ${path}: ${message}\n`);
    await writeAtomically(options.out, await encode(rendered, format, depth, recipe, stacks));
    if (options.report)
      await writeAtomically(options.report, [Buffer.from(`${JSON.stringify(rendered.report, null, 2)}\n`)]);
  } finally {
    await pool.close();
  }
}
