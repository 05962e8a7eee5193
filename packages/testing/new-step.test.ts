import { spawnSync } from 'node:child_process';
import { cp, mkdir, mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { HOME } from './home';

const LISTS = [
  'packages/recipe/steps/index.ts',
  'packages/engine/steps/index.ts',
  'apps/web/src/loom/step-editors/index.ts',
  'packages/engine/steps/laws.test.ts',
];
let folder: string;
const make = (name: string) =>
  spawnSync(process.execPath, [join(HOME, 'tools/new-step.mjs'), name, folder], { encoding: 'utf8' });
const read = (path: string): Promise<string> => readFile(join(folder, path), 'utf8');

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'owl-loom-new-'));
  for (const path of LISTS) {
    await mkdir(dirname(join(folder, path)), { recursive: true });
    await cp(join(HOME, path), join(folder, path));
  }
});
afterAll(() => rm(folder, { recursive: true, force: true }));

it('the skeleton of a step has every part, and stands in every list', async () => {
  expect(make('star-glow').status).toBe(0);
  expect(await read('packages/recipe/steps/star-glow.ts')).toContain("do: 'star-glow'");
  expect(await read('packages/engine/steps/star-glow.ts')).toContain('implementStep(spec');
  expect(await read('apps/web/src/loom/step-editors/star-glow.tsx')).toContain('export function StarGlowEditor');
  const [specs, works, editors, laws] = await Promise.all(LISTS.map(read));
  expect(specs).toMatch(/import \{ starGlow \} from '\.\/star-glow';[\s\S]*\n {4}starGlow,\n {2}\]\.map/);
  expect(works).toMatch(/import \{ starGlowStep \} from '\.\/star-glow';[\s\S]*\n {4}starGlowStep,\n {2}\]\.map/);
  expect(editors).toMatch(/import \{ StarGlowEditor \}[\s\S]*\n {2}'star-glow': StarGlowEditor,\n\};/);
  expect(laws).toMatch(/const EXAMPLES[^;]*\n {2}'star-glow': \{\},\n\};/);
});

it('a name that is taken, or is none, is refused, and nothing is written', async () => {
  const before = await Promise.all(LISTS.map(read));
  for (const name of ['star-glow', 'Star Glow', '', 'ends-']) expect(make(name).status).toBe(1);
  expect(await Promise.all(LISTS.map(read))).toEqual(before);
});
