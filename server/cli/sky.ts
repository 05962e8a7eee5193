import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Command } from 'commander';
import { makeLanternMoth } from '../../demo/make';

async function run(dir: string): Promise<void> {
  const target = join(dir, 'lantern-moth');
  await mkdir(target, { recursive: true });
  await makeLanternMoth(target, (line) => process.stderr.write(`${line}\n`));
}

export function addSky(program: Command): void {
  program.command('sky').description('write the demo skies and their truth').argument('<dir>', 'folder to write to').action(run);
}
