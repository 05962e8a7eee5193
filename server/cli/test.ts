import { spawn } from 'node:child_process';
import type { Command } from 'commander';
import { UserError } from '../../core/errors';
import { HOME } from '../system/home';
import { ensurePrograms } from '../system/packages';
import { SERVER_PROGRAMS } from './start';

/** What the tests need beyond the server: a browser. */
export const TEST_PROGRAMS = { ...SERVER_PROGRAMS, chromium: 'chromium' };

async function run(): Promise<void> {
  ensurePrograms(TEST_PROGRAMS, (line) => process.stderr.write(`${line}\n`));
  const child = spawn(process.execPath, ['tools/test.mjs'], { cwd: HOME, stdio: 'inherit' });
  const code = await new Promise<number>((resolve) => child.once('exit', (status) => resolve(status ?? 1)));
  if (code !== 0) throw new UserError('tests-failed', 'Some tests failed; see above.');
}

export function addTest(program: Command): void {
  program.command('test').description("run every test, the browser's included").action(run);
}
