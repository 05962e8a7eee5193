import type { VerifyReport } from '@owl-loom/api/jobs';
import { withRunningServer, progressPrinter } from './with-server';
import { printJson } from './options';

/** Looks through everything; ends with 1 where something is left that is not as it should be. */
export async function run({ repair = false }: { repair?: boolean }): Promise<void> {
  const report = await withRunningServer(async (client) => {
    const { job } = await client.post<{ job: string }>('/verify', { repair });
    return client.follow<VerifyReport>(job, progressPrinter());
  });
  printJson(report);
  for (const { says, mended } of report.faults) process.stderr.write(`${says}${mended ? ' It is put right.' : ''}\n`);
  if (report.faults.some(({ mended }) => !mended)) process.exitCode = 1;
}
