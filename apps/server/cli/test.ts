import { UserError } from '@owl-loom/base/errors';
import { ensurePrograms } from '../system/packages';
import { TEST_PROGRAMS } from './programs';
import { runTool } from './script';

/** How a long run of faults is asked for: so many, in so many minutes, another course of events each time. */
const LONG = { LOOM_FAULTS: '300', LOOM_MINUTES: '25' } as const;

export async function run({ long = false }: { long?: boolean }): Promise<void> {
  ensurePrograms(TEST_PROGRAMS, (line) => process.stderr.write(`${line}\n`));
  if (long) {
    const seed = process.env.LOOM_SEED ?? String(Date.now() % 100_000);
    process.stderr.write(`LOOM_SEED=${seed} gives the same course of events.\n`);
    Object.assign(process.env, { ...LONG, ...process.env, LOOM_SEED: seed });
  }
  if ((await runTool(long ? 'test-long.mjs' : 'test.mjs')) !== 0)
    throw new UserError('tests-failed', 'Some tests failed; see above.');
}
