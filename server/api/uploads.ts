import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { type Request, Router } from 'express';
import { z } from 'zod';
import { UserError } from '../../core/errors';
import { StackEntity } from '../db/entities';
import { openFile } from '../io/bytes';
import { openImage } from '../io/image-file';
import { type Studio, stackFile } from '../jobs/studio';
import { checked, route } from './http';
import { targetOf } from './targets';

/** Bytes that one file may have where nothing else is set. */
export const DEFAULT_CAP = 4 * 2 ** 30;

const query = z.object({ name: z.string().min(1).max(255) });

/** Takes the body to disk and its hash on the way; what breaks off or grows too large leaves nothing. */
async function receive(request: Request, path: string, cap: number): Promise<{ hash: string; bytes: number }> {
  const hash = createHash('sha256');
  let bytes = 0;
  const meter = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      if (bytes > cap) done(new UserError('too-large', `This file is larger than the ${Math.floor(cap / 2 ** 20)} MB that Owl Loom takes; crop or bin it first.`));
      else {
        hash.update(chunk);
        done(null, chunk);
      }
    },
  });
  await pipeline(request, meter, createWriteStream(path));
  return { hash: hash.digest('hex'), bytes };
}

/** The name of a file without anything that could be a path. */
const baseName = (name: string): string => name.split(/[\\/]/).at(-1)?.replace(/\p{Cc}/gu, '').slice(0, 255) || 'stack.fits';

export function uploadRoutes(studio: Studio, cap = DEFAULT_CAP): Router {
  const router = Router();
  router.put('/targets/:id/uploads', route(async (request, response) => {
    const target = await targetOf(studio, request.params.id);
    const fileName = baseName(checked(query, request.query).name);
    const declared = Number(request.headers['content-length'] ?? 0);
    if (declared > cap) throw new UserError('too-large', `${fileName} is larger than the ${Math.floor(cap / 2 ** 20)} MB that Owl Loom takes; crop or bin it first.`);
    const incoming = join(studio.root, 'incoming', randomUUID());
    try {
      const { hash } = await receive(request, incoming, cap);
      const already = await studio.data.getRepository(StackEntity).findOneBy({ targetId: target.id, hash });
      if (already) {
        response.json({ again: true, stack: already.id, name: already.name });
        return;
      }
      // A file that is no stack is refused here, before anything is kept or promised.
      const file = await openFile(incoming, fileName);
      try {
        await openImage(file);
      } finally {
        await file.close();
      }
      await rename(incoming, stackFile(studio.root, hash));
      const job = await studio.jobs.add('import', target.id, fileName, { hash, fileName });
      response.status(202).json({ again: false, job: job.id });
    } catch (fault) {
      if (request.destroyed && !request.complete) {
        studio.log.info({ fileName }, 'an upload was broken off');
        return;
      }
      throw fault;
    } finally {
      await rm(incoming, { force: true });
    }
  }));
  return router;
}
