import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { Router } from 'express';
import { z } from 'zod';
import { UserError } from '#base/errors';
import { archiveFile, archivePayload, incomingFile } from '../jobs/archive';
import type { Services } from '../services';
import { requireDiskSpace } from '../system/disk-space';
import { baseName, parseOrThrow, route } from './http';
import { isCommand } from './security';
import { writeUpload, tooLarge } from './upload-stream';
import { targetOf } from './targets';

const query = z.object({ name: z.string().min(1).max(255) });
const place = z.object({ id: z.uuid() });

/**
 * Archives on their way in: they stream past the reader of JSON.
 * @param cap bytes that one may have that comes from elsewhere
 */
export function archiveUploads(services: Services, cap: number): Router {
  const router = Router();
  router.put(
    '/archives',
    route(async (request, response) => {
      const fileName = baseName(parseOrThrow(query, request.query).name);
      const incoming = randomUUID();
      const path = incomingFile(services.root, incoming);
      // A command of this user has the file on this machine already.
      const most = isCommand(response) ? Number.POSITIVE_INFINITY : cap;
      const declared = Number(request.headers['content-length'] ?? 0);
      if (declared > most) throw tooLarge(fileName, most);
      await requireDiskSpace(services.root, declared, fileName);
      try {
        await writeUpload(request, path, most);
        const job = await services.jobs.add('restore', null, fileName, { incoming, fileName });
        response.status(202).json({ job: job.id });
      } catch (fault) {
        await rm(path, { force: true });
        throw fault;
      }
    }),
  );
  return router;
}

/** Targets as one file, out and in again. */
export function archiveRoutes(services: Services): Router {
  const router = Router();

  router.post(
    '/targets/:id/archive',
    route(async (request, response) => {
      const target = await targetOf(services, request.params.id);
      const payload = parseOrThrow(archivePayload, request.body ?? {});
      response.status(202).json({ job: (await services.jobs.add('archive', target.id, target.name, payload)).id });
    }),
  );

  router.get(
    '/archives/:id/file',
    route(async (request, response) => {
      const { id } = parseOrThrow(place, request.params);
      const { result } = await services.jobs.one(id);
      const { fileName } = (result ?? {}) as { fileName?: string };
      if (!fileName) throw new UserError('no-archive', 'There is no such archive; pack the target again.');
      await new Promise<void>((resolve, reject) => {
        response.download(archiveFile(services.root, id), fileName, { dotfiles: 'allow' }, (fault) =>
          fault ? reject(fault) : resolve(),
        );
      }).catch((fault: unknown) => {
        if ((fault as NodeJS.ErrnoException).code === 'ENOENT' && !response.headersSent)
          throw new UserError('no-archive', 'This archive has been cleared away; pack the target again.');
        throw fault;
      });
    }),
  );
  return router;
}
