import { UserError } from '../../core/errors';
import { ensurePrograms } from '../system/packages';
import { TEST_PROGRAMS } from './programs';
import { runTool } from './script';

export async function run(): Promise<void> {
  ensurePrograms(TEST_PROGRAMS, (line) => process.stderr.write(`${line}\n`));
  if ((await runTool('test.mjs')) !== 0) throw new UserError('tests-failed', 'Some tests failed; see above.');
}
