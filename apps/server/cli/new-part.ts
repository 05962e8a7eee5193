import { UserError } from '@owl-loom/base/errors';
import { runTool } from './script';

/** Writes the skeleton of a part of Owl Loom, for those who work on it. */
export async function run(what: string, name: string): Promise<void> {
  if (what !== 'step')
    throw new UserError('unknown-part', `There is no skeleton of a ${what}; there is one of a step.`);
  if ((await runTool('new-step.mjs', name)) !== 0)
    throw new UserError('not-written', 'Nothing was written; see above.');
}
