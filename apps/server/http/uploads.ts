import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { opendir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import express, { Router } from 'express';
import type { Taken } from '@owl-loom/api/stacks';
import { UserError } from '@owl-loom/base/errors';
import { StackEntity } from '../storage/db/entities';
import { setFileState } from '../storage/original-file';
import { stackFile } from '../services/stacks';
import type { Services } from '../services/services';
import { lookAt } from '../stacks/ingest';
import { recheck } from '../storage/integrity';
import { requireDiskSpace, pyramidBytes } from '../system/disk-space';
import { baseName, goneWith } from './http';
import { writeUpload, tooLarge } from './upload-stream';
import { targetOf } from './targets';
import { serve } from './endpoint';

/** Bytes that one file may have where nothing else is set. */
export const DEFAULT_CAP = 4 * 2 ** 30;

/** Puts a file that has come where files lie; no stack lacks it any more. */
async function moveIntoStacks(services: Services, incoming: string, hash: string): Promise<void> {
  await rename(incoming, stackFile(services.root, hash));
  await setFileState(services, hash, null);
}

/**
 * Takes a file in, whichever way it comes: written to disk and hashed, opened once before anything is promised, then left to an import.
 * @param replace id of the stack that it takes the place of
 * @throws UserError where it is no stack, or the same as another one
 */
async function acceptFile(
  services: Services,
  targetId: string,
  fileName: string,
  body: Readable,
  cap: number,
  signal: AbortSignal,
  replace?: string,
): Promise<Taken> {
  const table = services.data.getRepository(StackEntity);
  if (replace !== undefined && !(await table.existsBy({ id: replace, targetId })))
    throw new UserError('no-stack', 'There is no such stack to replace; it may have been removed.');
  const incoming = join(services.root, 'incoming', randomUUID());
  try {
    await writeUpload(body, incoming, cap);
    const hash = await services.pool.hash(incoming);
    const already = await table.findOneBy({ targetId, hash });
    if (already && replace !== undefined && already.id !== replace)
      throw new UserError('same-file', `${fileName} is already imported as ${already.name}. Choose another file.`);
    if (already && !already.lacking) return { again: true, stack: already.id, name: already.name };
    // A file that is no stack is refused here, before anything is kept or promised.
    const image = await lookAt(services, { path: incoming, name: fileName }, signal);
    await requireDiskSpace(services.root, pyramidBytes(image), `Bringing ${fileName} in`);
    if (already) {
      await services.fileMutex.runExclusive(hash, () => moveIntoStacks(services, incoming, hash));
      void recheck(services, already);
      return { again: true, stack: already.id, name: already.name, mended: true };
    }
    const payload = { hash, fileName, ...(replace !== undefined && { into: replace }) };
    const job = await services.fileMutex.runExclusive(hash, async () => {
      await moveIntoStacks(services, incoming, hash);
      return services.jobs.add('import', targetId, fileName, payload);
    });
    return { again: false, job: job.id };
  } finally {
    await rm(incoming, { force: true });
  }
}

/** Folder on the server's disk from which files can be taken in without a way through the page. */
const inboxOf = (root: string): string => join(root, 'inbox');

/** Files of the inbox that are listed at once. */
const MOST_LISTED = 2000;

/** Names of the plain files of a folder: a pipe would never end, and a link may lead anywhere. */
async function filesIn(folder: string): Promise<string[]> {
  const names: string[] = [];
  // One after the other: what lies there may be more than anyone would look through.
  for await (const entry of await opendir(folder)) {
    if (entry.isFile() && !entry.name.startsWith('.')) names.push(entry.name);
    if (names.length === MOST_LISTED) break;
  }
  return names;
}

export function uploadRoutes(services: Services, cap = DEFAULT_CAP): Router {
  const router = Router();
  serve(router, 'PUT /targets/:id/uploads', async ({ parseQuery, request, response }) => {
    const target = await targetOf(services, request.params.id);
    const { name, replace } = parseQuery();
    const fileName = baseName(name);
    const declared = Number(request.headers['content-length'] ?? 0);
    if (declared > cap) throw tooLarge(fileName, cap);
    await requireDiskSpace(services.root, declared, fileName);
    const taken = await acceptFile(services, target.id, fileName, request, cap, goneWith(response), replace);
    if (!taken.again) response.status(202);
    return taken;
  });

  serve(router, 'GET /inbox', async () => {
    const folder = inboxOf(services.root);
    const names = await filesIn(folder);
    const files = await Promise.all(
      names.sort().map(async (name) => ({ name, bytes: (await stat(join(folder, name))).size })),
    );
    return { folder, files };
  });

  router.use('/targets/:id/inbox', express.json());
  serve(
    router,
    'POST /targets/:id/inbox',
    async ({ parseBody, request, response }) => {
      const target = await targetOf(services, request.params.id);
      const { files } = parseBody();
      const there = new Set(await filesIn(inboxOf(services.root)));
      const results: (Taken | { readonly trouble: string })[] = [];
      for (const name of files) {
        // Only what the folder itself lists: a name can be no path.
        const taken = there.has(name)
          ? acceptFile(
              services,
              target.id,
              name,
              createReadStream(join(inboxOf(services.root), name)),
              cap,
              goneWith(response),
            )
          : Promise.reject(
              new UserError('no-file', `${baseName(name)} is no longer in the inbox, or is not a plain file.`),
            );
        results.push(
          await taken.catch((error: unknown) => {
            if (error instanceof UserError) return { trouble: error.message };
            throw error;
          }),
        );
      }
      return results.map((result, i) => ({ name: files[i], ...result }));
    },
    202,
  );
  return router;
}
