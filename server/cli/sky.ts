import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { makeTarget } from '../../demo/make';
import { DEMO_TARGETS } from '../../demo/targets';
import { writeWhole } from '../io/write';

export async function run(dir: string): Promise<void> {
  for (const target of DEMO_TARGETS) {
    const folder = join(dir, target.folder);
    await mkdir(folder, { recursive: true });
    await makeTarget(folder, target, writeWhole, (line) => process.stderr.write(`${line}\n`));
  }
}
