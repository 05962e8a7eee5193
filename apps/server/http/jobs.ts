import { Router } from 'express';
import { z } from 'zod';
import type { PublicJob } from '../queue/job-dto';
import type { Services } from '../services';
import { freeBytes } from '../system/disk-space';
import { parseOrThrow, route } from './http';

const query = z.object({ target: z.string().max(36).optional() });

export function jobRoutes(services: Services): Router {
  const router = Router();

  router.get(
    '/jobs',
    route(async (request, response) => {
      response.json(await services.jobs.recent(parseOrThrow(query, request.query).target));
    }),
  );

  router.get(
    '/jobs/:id',
    route(async (request, response) => {
      response.json(await services.jobs.one(String(request.params.id)));
    }),
  );

  router.post(
    '/jobs/:id/cancel',
    route(async (request, response) => {
      await services.jobs.cancel(String(request.params.id));
      response.status(204).end();
    }),
  );

  // Server-sent events: every change of a job, and now and then the bytes that are free, so that a dead line is noticed.
  router.get('/events', (request, response) => {
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache', Connection: 'keep-alive' });
    response.flushHeaders();
    response.write('event: hello\ndata: {}\n\n');
    const send = (job: PublicJob) => response.write(`event: job\ndata: ${JSON.stringify(job)}\n\n`);
    const room = (): void => {
      freeBytes(services.root).then(
        (free) => response.write(`event: room\ndata: ${JSON.stringify({ free })}\n\n`),
        (fault: unknown) => services.log.warn(fault, 'the room on the disk cannot be told'),
      );
    };
    room();
    // It also shows that the line is alive.
    const beat = setInterval(room, 15_000);
    services.jobs.events.on('job', send);
    // A page has come: what it will ask for first need not wait for threads to start.
    services.pool.warm().catch((fault: unknown) => services.log.warn(fault, 'the threads could not be made ready'));
    request.on('close', () => {
      clearInterval(beat);
      services.jobs.events.off('job', send);
    });
  });
  return router;
}
