import { Router } from 'express';
import type { PublicJob } from '@owl-loom/api/jobs';
import type { Services } from '../services/services';
import { freeBytes } from '../system/disk-space';
import { sendEvent, serve } from './endpoint';

export function jobRoutes(services: Services): Router {
  const router = Router();

  serve(router, 'GET /jobs', async ({ parseQuery }) => {
    return await services.jobs.recent(parseQuery().target);
  });

  serve(router, 'GET /jobs/:id', async ({ request }) => {
    return await services.jobs.one(String(request.params.id));
  });

  serve(router, 'POST /jobs/:id/cancel', async ({ request }) => {
    await services.jobs.cancel(String(request.params.id));
  });

  // Server-sent events: every change of a job, and now and then the bytes that are free, so that a dead line is noticed.
  router.get('/events', (request, response) => {
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-cache', Connection: 'keep-alive' });
    response.flushHeaders();
    sendEvent(response, 'hello', {});
    const send = (job: PublicJob) => sendEvent(response, 'job', job);
    const room = (): void => {
      freeBytes(services.root).then(
        (free) => sendEvent(response, 'room', { free }),
        (error: unknown) => services.log.warn(error, 'the room on the disk cannot be told'),
      );
    };
    room();
    // It also shows that the line is alive.
    const beat = setInterval(room, 15_000);
    services.jobs.events.on('job', send);
    // A page has come: what it will ask for first need not wait for threads to start.
    services.pool.warm().catch((error: unknown) => services.log.warn(error, 'the threads could not be made ready'));
    request.on('close', () => {
      clearInterval(beat);
      services.jobs.events.off('job', send);
    });
  });
  return router;
}
