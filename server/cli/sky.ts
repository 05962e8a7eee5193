import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Command } from 'commander';
import { makeTarget } from '../../demo/make';
import { DEMO_TARGETS } from '../../demo/targets';

async function run(dir: string): Promise<void> {
  for (const target of DEMO_TARGETS) {
    const folder = join(dir, target.folder);
    await mkdir(folder, { recursive: true });
    await makeTarget(folder, target, (line) => process.stderr.write(`${line}\n`));
  }
}

export function addSky(program: Command): void {
  program
    .command('sky')
    .description('write the demo skies and their truth')
    .argument('<dir>', 'folder to write to')
    .action(run);
}
