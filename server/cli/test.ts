import { spawn } from 'node:child_process';
import { UserError } from '../../core/errors';
import { HOME } from '../system/home';
import { ensurePrograms } from '../system/packages';
import { TEST_PROGRAMS } from './programs';

export async function run(): Promise<void> {
  ensurePrograms(TEST_PROGRAMS, (line) => process.stderr.write(`${line}\n`));
  const child = spawn(process.execPath, ['tools/test.mjs'], { cwd: HOME, stdio: 'inherit' });
  const code = await new Promise<number>((resolve) => child.once('exit', (status) => resolve(status ?? 1)));
  if (code !== 0) throw new UserError('tests-failed', 'Some tests failed; see above.');
}
