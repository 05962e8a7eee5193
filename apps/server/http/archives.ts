import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { Router } from 'express';
import { z } from 'zod';
import { UserError, errorCodeOf } from '@owl-loom/base/errors';
import { archiveFile, incomingFile } from '../archive/archive-files';
import type { Services } from '../services/services';
import { requireDiskSpace } from '../system/disk-space';
import { baseName, parseOrThrow, route } from './http';
import { isCommand } from './security';
import { writeUpload, tooLarge } from './upload-stream';
import { targetOf } from './targets';
import { serve } from './endpoint';

const place = z.object({ id: z.uuid() });

/**
 * Archives on their way in: they stream past the reader of JSON.
 * @param cap bytes that one may have that comes from elsewhere
 */
export function archiveUploads(services: Services, cap: number): Router {
  const router = Router();
  serve(
    router,
    'PUT /archives',
    async ({ parseQuery, request, response }) => {
      const fileName = baseName(parseQuery().name);
      const incoming = randomUUID();
      const path = incomingFile(services.root, incoming);
      // A command of this user has the file on this machine already.
      const max = isCommand(response) ? Number.POSITIVE_INFINITY : cap;
      const declared = Number(request.headers['content-length'] ?? 0);
      if (declared > max) throw tooLarge(fileName, max);
      await requireDiskSpace(services.root, declared, fileName);
      try {
        await writeUpload(request, path, max);
        const job = await services.jobs.add('restore', null, fileName, { incoming, fileName });
        return { job: job.id };
      } catch (error) {
        await rm(path, { force: true });
        throw error;
      }
    },
    202,
  );
  return router;
}

/** Targets as one file, out and in again. */
export function archiveRoutes(services: Services): Router {
  const router = Router();

  serve(
    router,
    'POST /targets/:id/archive',
    async ({ parseBody, request }) => {
      const target = await targetOf(services, request.params.id);
      const payload = parseBody();
      return { job: (await services.jobs.add('archive', target.id, target.name, payload)).id };
    },
    202,
  );

  router.get(
    '/archives/:id/file',
    route(async (request, response) => {
      const { id } = parseOrThrow(place, request.params);
      const job = await services.jobs.one(id);
      if (job.kind !== 'archive' || !job.result)
        throw new UserError('no-archive', 'There is no such archive. Save it again.');
      const { fileName } = job.result;
      await new Promise<void>((resolve, reject) => {
        response.download(archiveFile(services.root, id), fileName, { dotfiles: 'allow' }, (error) =>
          error ? reject(error) : resolve(),
        );
      }).catch((error: unknown) => {
        if (errorCodeOf(error) === 'ENOENT' && !response.headersSent)
          throw new UserError('no-archive', 'This archive was cleaned up. Save it again.');
        throw error;
      });
    }),
  );
  return router;
}
