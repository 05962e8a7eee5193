import { spawnSync } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { HOME } from './home';

it('the schema of recipes in the docs is what the tool writes', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'owl-loom-schema-'));
  try {
    const path = join(folder, 'recipe.schema.json');
    const { status, stderr } = spawnSync(process.execPath, ['tools/schema.mjs', path], { cwd: HOME, encoding: 'utf8' });
    expect(stderr).toBe('');
    expect(status).toBe(0);
    expect(JSON.parse(await readFile(path, 'utf8'))).toEqual(
      JSON.parse(await readFile(join(HOME, 'docs/recipe.schema.json'), 'utf8')),
    );
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
});
