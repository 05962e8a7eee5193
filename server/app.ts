import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express } from 'express';
import { UserError } from '../core/errors';
import { archiveRoutes, archiveUploads } from './api/archives';
import { exportRoutes } from './api/exports';
import { type Called, headers, onlyAdmitted, onlyOurs } from './api/guard';
import { errorHandler, route } from './api/http';
import { houseRoutes } from './api/house';
import { jobRoutes } from './api/jobs';
import { paletteRoutes } from './api/palettes';
import { pixelRoutes } from './api/pixels';
import { patternRoutes } from './api/patterns';
import { swatchRoutes } from './api/swatches';
import { recipeRoutes } from './api/recipes';
import { renewalRoutes } from './api/renewals';
import { stateRoutes } from './api/states';
import { stackRoutes } from './api/stacks';
import { targetRoutes } from './api/targets';
import { trashRoutes } from './api/trash';
import { DEFAULT_CAP, uploadRoutes } from './api/uploads';
import { sessionRoutes } from './api/session';
import type { Studio } from './jobs/studio';
import type { Lock } from './system/password';

export interface AppOptions {
  readonly called: Called;
  /** What people must open first, where the server answers beyond this machine; commands of this user show the key. */
  readonly door?: { readonly lock: Lock; readonly key: string; readonly secure: boolean };
  /** Folder of the built interface. */
  readonly web?: string;
  readonly uploadCap?: number;
}

/** The server's routes: `/api` and the built interface. */
export function makeApp(studio: Studio, { called, door, web, uploadCap = DEFAULT_CAP }: AppOptions): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(onlyOurs(called), headers);
  const api = express.Router();
  if (door) {
    api.use(sessionRoutes(door.lock, door.secure), onlyAdmitted(door.lock, door.key));
  }
  // Uploads stream past the JSON reader.
  api.use(uploadRoutes(studio, uploadCap), archiveUploads(studio));
  api.use(express.json({ limit: '4mb' }));
  api.get(
    '/health',
    route(async (_request, response) => {
      await studio.data.query('SELECT 1');
      response.json({ ok: true });
    }),
  );
  for (const routes of [
    targetRoutes,
    stackRoutes,
    pixelRoutes,
    recipeRoutes,
    stateRoutes,
    paletteRoutes,
    patternRoutes,
    swatchRoutes,
    exportRoutes,
    jobRoutes,
    renewalRoutes,
    trashRoutes,
    archiveRoutes,
    houseRoutes,
  ])
    api.use(routes(studio));
  api.use((_request, _response, next) => next(new UserError('not-found', 'There is nothing at this address.')));
  app.use('/api', api);
  if (web && existsSync(join(web, 'index.html'))) {
    app.use('/assets', express.static(join(web, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }));
    app.use(express.static(web, { index: false }));
    app.get('/{*path}', (_request, response) => response.sendFile(join(web, 'index.html')));
  }
  app.use((_request, _response, next) => next(new UserError('not-found', 'There is nothing at this address.')));
  app.use(errorHandler(studio.log));
  return app;
}
