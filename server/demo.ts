import { existsSync } from 'node:fs';
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { sentenceOf, UserError } from '../core/errors';
import { fileOf, makeTarget } from '../demo/make';
import { DEMO_RECIPES } from '../demo/recipes';
import { DEMO_SWATCHES } from '../demo/swatches';
import type { DemoTarget } from '../demo/target';
import { DEMO_TARGETS } from '../demo/targets';
import { ask, json } from './ask';
import type { PublicJob } from './jobs/public-job';
import { writeWhole } from './io/write';
import type { Running } from './start';

/** Where Owl Loom answers, and what lets this in. */
type At = Pick<Running, 'command' | 'key'>;

async function call<T>({ command, key }: At, path: string, init: RequestInit = {}): Promise<T> {
  const headers = { ...(init.headers as Record<string, string>), Authorization: `Bearer ${key}` };
  try {
    return await ask<T>(command, path, { ...init, headers });
  } catch (fault) {
    throw new UserError('demo', `The demo could not be filled: ${sentenceOf(fault)}`);
  }
}

/** A target's stacks on disk, made where they are missing; a folder half made by an earlier run is begun anew. */
async function skyOf(target: DemoTarget, root: string, say: (line: string) => void): Promise<string[]> {
  const dir = join(root, 'demo', target.folder);
  if (!existsSync(dir)) {
    const beside = `${dir}.part`;
    await rm(beside, { recursive: true, force: true });
    await mkdir(beside, { recursive: true });
    await makeTarget(beside, target, writeWhole, (line) => say(`  ${line}`));
    await rename(beside, dir);
  }
  return target.stacks.map((stack) => join(dir, fileOf(target, stack)));
}

async function waitFor(at: At, ids: readonly string[]): Promise<void> {
  for (;;) {
    const jobs = (await call<PublicJob[]>(at, '/jobs')).filter((job) => ids.includes(job.id));
    const failed = jobs.find((job) => job.state === 'failed' || job.state === 'cancelled');
    if (failed) throw new UserError('demo', `The demo could not be filled: ${failed.title}: ${failed.message}`);
    if (jobs.length === ids.length && jobs.every((job) => job.state === 'done')) return;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}

async function fill(at: At, demo: DemoTarget, files: readonly string[]): Promise<void> {
  const target = await call<{ id: string }>(at, '/targets', json('POST', { name: demo.name }));
  const ids: string[] = [];
  for (const file of files) {
    const { job } = await call<{ job?: string }>(
      at,
      `/targets/${target.id}/uploads?name=${encodeURIComponent(basename(file))}`,
      { method: 'PUT', body: await readFile(file) },
    );
    if (job) ids.push(job);
  }
  await waitFor(at, ids);
  const recipes = new Map<string | undefined, string>();
  let newest: string | undefined;
  for (const body of DEMO_RECIPES[demo.folder] ?? []) {
    newest = (await call<{ id: string }>(at, `/targets/${target.id}/recipes`, json('POST', { body }))).id;
    recipes.set(body.name, newest);
  }
  // Asking for the cover sets its weaving off.
  if (newest) await call(at, `/recipes/${newest}/cover`);
  for (const { of, ...swatch } of DEMO_SWATCHES[demo.folder] ?? [])
    await call(at, `/targets/${target.id}/swatches`, json('POST', { recipeId: recipes.get(of), ...swatch }));
}

/** Fills an empty Owl Loom with the demo targets, through the same requests that the page makes. Each is done once; what users do to it stays. */
export async function fillDemo(running: Running, say: (line: string) => void): Promise<void> {
  const { studio } = running;
  for (const target of DEMO_TARGETS) {
    const mark = join(studio.root, 'demo', `.${target.folder}`);
    if (existsSync(mark)) continue;
    say(`Making the demo sky of the ${target.name} …`);
    await fill(running, target, await skyOf(target, studio.root, say));
    await writeFile(mark, `${new Date().toISOString()}\n`);
  }
}
