import { Router } from 'express';
import { UserError } from '#base/errors';
import { prepareBackup } from '../backup/backup';
import { backUpWhereDue, backupPayload } from '../jobs/backup';
import { serverStatus } from '../maintenance/server-status';
import { allowPlace, needAllowed } from '../maintenance/backup-places';
import { saveSchedule, scheduleOf, scheduleSchema } from '../maintenance/backup-schedule';
import type { Services } from '../services';
import { verifyPayload } from '../jobs/verify';
import { isCommand } from './security';
import { parseOrThrow, goneWith, route } from './http';

/** Work on everything that is kept here. */
export function houseRoutes(services: Services): Router {
  const router = Router();

  router.get(
    '/house',
    route(async (_request, response) => {
      response.json(await serverStatus(services, goneWith(response)));
    }),
  );

  router.post(
    '/verify',
    route(async (request, response) => {
      const payload = parseOrThrow(verifyPayload, request.body ?? {});
      response.status(202).json({ job: (await services.jobs.add('verify', null, 'everything', payload)).id });
    }),
  );
  router.post(
    '/backups',
    route(async (request, response) => {
      const payload = parseOrThrow(backupPayload, request.body);
      const own = isCommand(response);
      if (!own) await needAllowed(services, payload.dir);
      await prepareBackup(services.root, payload.dir);
      // A command of this user allows a place by using it.
      if (own) await allowPlace(services, payload.dir);
      const job = await services.jobs.add('backup', null, payload.dir.slice(0, 255), payload);
      response.status(202).json({ job: job.id });
    }),
  );

  router.post(
    '/backups/places',
    route(async (request, response) => {
      if (!isCommand(response))
        throw new UserError('not-allowed', 'Places for backups are allowed by ./loom backup --allow on this machine.');
      await allowPlace(services, parseOrThrow(backupPayload, request.body).dir);
      response.status(204).end();
    }),
  );

  router.get(
    '/backups/schedule',
    route(async (_request, response) => {
      response.json(await scheduleOf(services));
    }),
  );

  // Where backups go is looked at now: at three in the morning nobody is there to be told.
  router.put(
    '/backups/schedule',
    route(async (request, response) => {
      const { every, dir } = parseOrThrow(scheduleSchema.pick({ every: true, dir: true }), request.body);
      const before = await scheduleOf(services);
      // What was set by an earlier version was allowed then.
      if (every !== 'never' && dir !== before.dir) await needAllowed(services, dir);
      if (every !== 'never') await prepareBackup(services.root, dir);
      await saveSchedule(services, { every, dir, last: dir === before.dir ? before.last : null });
      await backUpWhereDue(services);
      response.json(await scheduleOf(services));
    }),
  );
  return router;
}
