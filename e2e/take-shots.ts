import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { takeShots } from './shots';
import { fillDemo } from '../apps/server/cli/demo';
import { startAll } from '../apps/server/main/start';
import { HOME, dataDir } from '../apps/server/system/home';
import { ensurePrograms } from '../apps/server/system/packages';
import { TEST_PROGRAMS } from '../apps/server/cli/programs';

const say = (line: string): void => {
  process.stderr.write(`${line}\n`);
};

export async function run(): Promise<void> {
  ensurePrograms(TEST_PROGRAMS, say);
  const folder = join(HOME, 'docs/screenshots');
  await mkdir(folder, { recursive: true });
  // A place of its own, so that pictures show the demo as it comes, whatever a user has done to theirs.
  const running = await startAll({ root: join(dataDir(), 'shots'), port: 0 });
  try {
    await fillDemo(running, say);
    await takeShots(running.address, folder, say);
  } finally {
    await running.stop();
  }
}
