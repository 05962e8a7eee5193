// Writes docs/recipe.schema.json, or the file that is named, from the recipe's Zod schema.
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';
import { RAW } from './server-build.mjs';

const dir = await mkdtemp(join(tmpdir(), 'owl-loom-schema-'));
try {
  const outfile = join(dir, 'published.mjs');
  await build({
    entryPoints: ['packages/recipe/json-schema.ts'],
    outfile,
    bundle: true,
    format: 'esm',
    platform: 'node',
    plugins: [RAW],
  });
  const { recipeJsonSchema } = await import(pathToFileURL(outfile));
  await writeFile(process.argv[2] ?? 'docs/recipe.schema.json', `${JSON.stringify(recipeJsonSchema(), null, 1)}\n`);
} finally {
  await rm(dir, { recursive: true, force: true });
}
