import { ensurePrograms } from '../system/packages';
import { SERVER_PROGRAMS } from './programs';
import { runTool } from './script';

export async function run(): Promise<void> {
  ensurePrograms(SERVER_PROGRAMS, (line) => process.stderr.write(`${line}\n`));
  // Ctrl-C reaches the script as well, which stops what it has started; this one only waits.
  process.on('SIGINT', () => undefined);
  process.exitCode = await runTool('dev.mjs');
}
