import { existsSync } from 'node:fs';
import { mkdir, rename, rm, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { userMessageOf, UserError } from '@owl-loom/base/errors';
import { fileOf, makeTarget } from '../../../demo/make';
import { DEMO_RECIPES } from '../../../demo/recipes';
import { DEMO_SWATCHES } from '../../../demo/swatches';
import type { DemoTarget } from '../../../demo/target';
import { DEMO_TARGETS } from '../../../demo/targets';
import { Client } from './client';
import { writeAtomically } from '../system/write-atomically';
import type { RunningServer } from '../main/start';

/** A target's stacks on disk, made where they are missing; a folder half made by an earlier run is begun anew. */
async function skyOf(target: DemoTarget, root: string, say: (line: string) => void): Promise<string[]> {
  const dir = join(root, 'demo', target.folder);
  if (!existsSync(dir)) {
    const beside = `${dir}.part`;
    await rm(beside, { recursive: true, force: true });
    await mkdir(beside, { recursive: true });
    await makeTarget(beside, target, writeAtomically, (line) => say(`  ${line}`));
    await rename(beside, dir);
  }
  return target.stacks.map((stack) => join(dir, fileOf(target, stack)));
}

async function fill(client: Client, demo: DemoTarget, files: readonly string[]): Promise<void> {
  const { id } = await client.post<{ id: string }>('/targets', { name: demo.name });
  const jobs: string[] = [];
  for (const file of files) {
    const path = `/targets/${id}/uploads?name=${encodeURIComponent(basename(file))}`;
    const { job } = await client.send<{ job?: string }>(path, file);
    if (job) jobs.push(job);
  }
  for (const job of jobs) await client.follow(job);
  const recipes = new Map<string | undefined, string>();
  let newest: string | undefined;
  for (const body of DEMO_RECIPES[demo.folder] ?? []) {
    newest = (await client.post<{ id: string }>(`/targets/${id}/recipes`, { body })).id;
    recipes.set(body.name, newest);
  }
  // Asking for the cover sets its weaving off.
  if (newest) await client.get(`/recipes/${newest}/cover`);
  for (const { of, ...swatch } of DEMO_SWATCHES[demo.folder] ?? [])
    await client.post(`/targets/${id}/swatches`, { recipeId: recipes.get(of), ...swatch });
}

/** Fills an empty Owl Loom with the demo targets, through the same requests that the page makes. Each is done once; what users do to it stays. */
export async function fillDemo(running: RunningServer, say: (line: string) => void): Promise<void> {
  const { services, command } = running;
  const client = new Client(command);
  for (const target of DEMO_TARGETS) {
    const mark = join(services.root, 'demo', `.${target.folder}`);
    if (existsSync(mark)) continue;
    say(`Making the demo sky of the ${target.name} …`);
    await fill(client, target, await skyOf(target, services.root, say)).catch((error: unknown) => {
      throw new UserError('demo', `The demo could not be filled: ${userMessageOf(error)}`);
    });
    await writeFile(mark, `${new Date().toISOString()}\n`);
  }
}
