import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { makeTarget } from '../../../demo/make';
import { DEMO_TARGETS } from '../../../demo/targets';
import { writeAtomically } from '../system/write-atomically';

export async function run(dir: string): Promise<void> {
  for (const target of DEMO_TARGETS) {
    const folder = join(dir, target.folder);
    await mkdir(folder, { recursive: true });
    await makeTarget(folder, target, writeAtomically, (line) => process.stderr.write(`${line}\n`));
  }
}
