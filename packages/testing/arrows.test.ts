import { spawnSync } from 'node:child_process';
import { mkdir, mkdtemp, rm, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { HOME } from './home';

const RULES = '.dependency-cruiser.cjs';
const FOLDER_RULES = '.dependency-cruiser.folders.cjs';
let folder: string;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'owl-loom-arrows-'));
  for (const name of ['node_modules', 'tsconfig.base.json', RULES, FOLDER_RULES])
    await symlink(join(HOME, name), join(folder, name));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

/** The rules that a set of modules breaks. */
async function broken(rules: string, modules: Readonly<Record<string, string>>): Promise<string[]> {
  await rm(join(folder, 'packages'), { recursive: true, force: true });
  for (const [path, text] of Object.entries(modules)) {
    await mkdir(dirname(join(folder, path)), { recursive: true });
    await writeFile(join(folder, path), text);
  }
  const args = ['depcruise', '--config', rules, '--output-type', 'json', 'packages'];
  const { stdout } = spawnSync('npx', args, { cwd: folder, encoding: 'utf8', maxBuffer: 1 << 26 });
  const { summary } = JSON.parse(stdout) as { summary: { violations: { rule: { name: string } }[] } };
  return [...new Set(summary.violations.map(({ rule }) => rule.name))].sort();
}

it('an import that points up is refused, of a type as well', async () => {
  const upper = { 'packages/engine/graph.ts': 'export interface Graph { readonly nodes: number }\n' };
  const of = (text: string) => broken(RULES, { ...upper, 'packages/image/plane.ts': text });
  expect(await of('export const one = 1;\n')).toEqual([]);
  expect(await of("import type { Graph } from '../engine/graph';\nexport type Of = Graph;\n")).toEqual([
    'image-is-below',
  ]);
});

it('folders of a package that import each other are refused', async () => {
  const found = await broken(FOLDER_RULES, {
    'packages/image/a/one.ts': "import type { Two } from '../b/two';\nexport type One = Two[];\n",
    'packages/image/a/three.ts': 'export type Three = 3;\n',
    'packages/image/b/two.ts': "import type { Three } from '../a/three';\nexport type Two = Three;\n",
  });
  expect(found).toEqual(['no-folder-circles']);
});
