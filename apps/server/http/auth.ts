import express, { type Request, Router } from 'express';
import { ipKeyGenerator } from 'express-rate-limit';
import { UserError } from '@owl-loom/base/errors';
import type { PasswordAuth } from '../system/password';
import { SESSION_SECONDS } from '../system/sessions';
import { AUTH_COOKIE, ticketOf } from './security';
import { Pace } from './sign-in-pace';
import { serve } from './endpoint';

/**
 * Where a request comes from, and by which name: what someone tries through a proxy keeps nobody out who comes by another name. Of an IPv6
 * address the part counts that one household shares.
 */
const placeOf = ({ ip = '', headers: { host = '' } }: Request): string => `${ipKeyGenerator(ip)} ${host.toLowerCase()}`;

/** Opens the door: the one way in without a ticket. */
export function sessionRoutes(lock: PasswordAuth): Router {
  const router = Router();
  const pace = new Pace();
  const how = (request: Request) => ({
    httpOnly: true,
    sameSite: 'strict' as const,
    // By TLS of our own, or by that of a proxy that is trusted.
    secure: request.secure,
    path: '/',
  });

  router.use('/session', express.json({ limit: '4kb' }));
  serve(router, 'POST /session', async ({ parseBody, request, response }) => {
    const { password } = parseBody();
    const place = placeOf(request);
    const pause = pace.pause(place);
    if (pause > 0) {
      const seconds = Math.ceil(pause / 1000);
      response.set('Retry-After', String(seconds));
      throw new UserError(
        'too-many',
        `Too many attempts. Try again in ${seconds} ${seconds === 1 ? 'second' : 'seconds'}.`,
      );
    }
    pace.tried(place);
    if (!(await lock.verify(password))) throw new UserError('wrong-password', 'Wrong password.');
    pace.right(place);
    const { ip = '' } = request;
    const ticket = await lock.sessions.begin({ from: ip, agent: request.get('User-Agent') ?? '' });
    response.cookie(AUTH_COOKIE, ticket, { ...how(request), maxAge: 1000 * SESSION_SECONDS });
  });

  serve(router, 'DELETE /session', async ({ request, response }) => {
    const ticket = ticketOf(request);
    if (ticket !== undefined) await lock.sessions.end(ticket);
    response.clearCookie(AUTH_COOKIE, how(request));
  });
  return router;
}

/** The browsers that are let in, for one that is. */
export function sessionsRoutes(lock: PasswordAuth | undefined): Router {
  const router = Router();
  serve(router, 'GET /sessions', async ({ request }) => {
    const own = lock?.sessions.idOf(ticketOf(request) ?? '');
    return lock ? lock.sessions.list().map((one) => ({ ...one, own: one.id === own })) : [];
  });
  serve(router, 'DELETE /sessions', async ({ request }) => {
    await lock?.sessions.endOthers(ticketOf(request));
  });
  return router;
}
