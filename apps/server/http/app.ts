import { existsSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express } from 'express';
import { UserError } from '@owl-loom/base/errors';
import { archiveRoutes, archiveUploads } from './archives';
import { exportRoutes } from './exports';
import { type ServerIdentity, headers, requireAuth, checkHostAndOrigin } from './security';
import { errorHandler } from './http';
import { serve } from './endpoint';
import { houseRoutes } from './maintenance';
import { jobRoutes } from './jobs';
import { paletteRoutes } from './palettes';
import { pixelRoutes } from './pixels';
import { patternRoutes } from './patterns';
import { swatchRoutes } from './swatches';
import { recipeRoutes } from './recipes';
import { renewalRoutes } from './replacements';
import { stateRoutes } from './revisions';
import { stackRoutes } from './stacks';
import { targetRoutes } from './targets';
import { trashRoutes } from './trash';
import { DEFAULT_CAP, uploadRoutes } from './uploads';
import { jsonBodies } from './body';
import { wholeSoon } from './slow-senders';
import { sessionRoutes, sessionsRoutes } from './auth';
import type { Services } from '../services/services';
import type { PasswordAuth } from '../system/password';

export interface AppOptions {
  readonly called: ServerIdentity;
  /** What people must open first, where a password is set; commands of this user show the key. */
  readonly auth?: PasswordAuth;
  /** What commands of this user show. */
  readonly key: string;
  /** Addresses of proxies whose word counts on where a request comes from, and whether it came by TLS. */
  readonly proxies?: readonly string[];
  /** Whether this server speaks TLS itself, so that browsers may be told to come by nothing else. */
  readonly tls?: boolean;
  /** Folder of the built interface. */
  readonly web?: string;
  readonly uploadCap?: number;
}

/** The server's routes: `/api` and the built interface. */
export function makeApp(
  services: Services,
  { called, auth: door, key, proxies = [], tls = false, web, uploadCap = DEFAULT_CAP }: AppOptions,
): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('trust proxy', proxies);
  app.use(checkHostAndOrigin(called), headers(tls));
  const api = express.Router();
  // What may be kept says so itself.
  api.use((_request, response, next) => {
    response.set('Cache-Control', 'no-store');
    next();
  });
  if (door) api.use(sessionRoutes(door));
  api.use(requireAuth(door, key));
  // Uploads stream past the JSON reader.
  api.use(uploadRoutes(services, uploadCap), archiveUploads(services, uploadCap));
  api.use(wholeSoon());
  api.use(jsonBodies());
  api.use(sessionsRoutes(door));
  serve(api, 'GET /health', async () => {
    await services.data.query('SELECT 1');
    return { ok: true };
  });
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
    api.use(routes(services));
  api.use((_request, _response, next) => next(new UserError('not-found', 'There is nothing at this address.')));
  app.use('/api', api);
  if (web && existsSync(join(web, 'index.html'))) {
    app.use('/assets', express.static(join(web, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }));
    app.use(express.static(web, { index: false }));
    app.get('/{*path}', (_request, response) => response.sendFile(join(web, 'index.html')));
  }
  app.use((_request, _response, next) => next(new UserError('not-found', 'There is nothing at this address.')));
  app.use(errorHandler(services.log));
  return app;
}
