import { Router } from 'express';
import { UserError } from '@owl-loom/base/errors';
import { prepareBackup } from '../backup/backup';
import { backUpWhereDue } from '../backup/backup-due';
import { serverStatus } from '../maintenance/server-status';
import { allowPlace, needAllowed } from '../backup/backup-places';
import { saveSchedule, scheduleOf } from '../backup/backup-schedule';
import type { Services } from '../services/services';
import { isCommand } from './security';
import { goneWith } from './http';
import { serve } from './endpoint';

/** Work on everything that is kept here. */
export function houseRoutes(services: Services): Router {
  const router = Router();

  serve(router, 'GET /house', async ({ response }) => {
    return await serverStatus(services, goneWith(response));
  });

  serve(
    router,
    'POST /verify',
    async ({ parseBody }) => {
      const payload = parseBody();
      return { job: (await services.jobs.add('verify', null, 'everything', payload)).id };
    },
    202,
  );
  serve(
    router,
    'POST /backups',
    async ({ parseBody, response }) => {
      const payload = parseBody();
      const own = isCommand(response);
      if (!own) await needAllowed(services, payload.dir);
      await prepareBackup(services.root, payload.dir);
      // A command of this user allows a place by using it.
      if (own) await allowPlace(services, payload.dir);
      const job = await services.jobs.add('backup', null, payload.dir.slice(0, 255), payload);
      return { job: job.id };
    },
    202,
  );

  serve(router, 'POST /backups/places', async ({ parseBody, response }) => {
    if (!isCommand(response))
      throw new UserError('not-allowed', 'Places for backups are allowed by ./loom backup --allow on this machine.');
    await allowPlace(services, parseBody().dir);
  });

  serve(router, 'GET /backups/schedule', async () => {
    return await scheduleOf(services);
  });

  // Where backups go is looked at now: at three in the morning nobody is there to be told.
  serve(router, 'PUT /backups/schedule', async ({ parseBody }) => {
    const { every, dir } = parseBody();
    const before = await scheduleOf(services);
    // What was set by an earlier version was allowed then.
    if (every !== 'never' && dir !== before.dir) await needAllowed(services, dir);
    if (every !== 'never') await prepareBackup(services.root, dir);
    await saveSchedule(services, { every, dir, last: dir === before.dir ? before.last : null });
    await backUpWhereDue(services);
    return await scheduleOf(services);
  });
  return router;
}
