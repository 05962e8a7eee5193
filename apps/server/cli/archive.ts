import { stat } from 'node:fs/promises';
import { basename, resolve } from 'node:path';
import { UserError } from '@owl-loom/base/errors';
import type { Unpacked } from '@owl-loom/api/jobs';
import { withRunningServer, progressPrinter } from './with-server';
import { printJson } from './options';

interface Target {
  readonly id: string;
  readonly name: string;
}

/** A target by its name or its id. */
function chosen(targets: readonly Target[], wanted: string): Target {
  const found = targets.filter(({ id, name }) => id === wanted || name === wanted);
  if (found.length === 1) return found[0];
  const names = targets.map(({ name }) => name).join(', ');
  throw new UserError(
    'no-target',
    found.length > 1
      ? `${found.length} targets are called ${wanted}; give the id of one: ${found.map(({ id }) => id).join(', ')}.`
      : `There is no target called ${wanted}; there are: ${names || 'none'}.`,
  );
}

export async function pack(
  wanted: string,
  options: { out?: string; withoutOriginals?: boolean; impersonal?: boolean },
): Promise<void> {
  const report = await withRunningServer(async (client) => {
    const { id } = chosen(await client.get<Target[]>('/targets'), wanted);
    const asked = { originals: !options.withoutOriginals, impersonal: options.impersonal === true };
    const { job } = await client.post<{ job: string }>(`/targets/${id}/archive`, asked);
    const made = await client.follow<{ archive: string; fileName: string; bytes: number }>(job, progressPrinter());
    const out = resolve(options.out ?? made.fileName.replaceAll('/', '-'));
    await client.fetchFile(`/archives/${made.archive}/file`, out);
    return { file: out, bytes: made.bytes };
  });
  printJson(report);
}

export async function unpack(path: string): Promise<void> {
  const found = await stat(path).catch(() => {
    throw new UserError('no-file', `There is no file ${path}; check the path.`);
  });
  if (found.isDirectory()) {
    await (await import('./backup')).bringBack(path);
    return;
  }
  const report = await withRunningServer(async (client) => {
    const { job } = await client.send<{ job: string }>(`/archives?name=${encodeURIComponent(basename(path))}`, path);
    return client.follow<Unpacked>(job, progressPrinter());
  });
  for (const note of report.notes) process.stderr.write(`${note}\n`);
  printJson(report);
}
