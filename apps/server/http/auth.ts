import express, { type Request, Router } from 'express';
import { ipKeyGenerator } from 'express-rate-limit';
import { z } from 'zod';
import { UserError } from '#base/errors';
import type { PasswordAuth } from '../system/password';
import { SESSION_SECONDS } from '../system/sessions';
import { AUTH_COOKIE, ticketOf } from './security';
import { parseOrThrow, route } from './http';
import { Pace } from './sign-in-pace';

const given = z.strictObject({ password: z.string().max(1000) });

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

  router.post(
    '/session',
    express.json({ limit: '4kb' }),
    route(async (request, response) => {
      const { password } = parseOrThrow(given, request.body);
      const place = placeOf(request);
      const pause = pace.pause(place);
      if (pause > 0) {
        const seconds = Math.ceil(pause / 1000);
        response.set('Retry-After', String(seconds));
        throw new UserError(
          'too-many',
          `Several tries were wrong; wait ${seconds} ${seconds === 1 ? 'second' : 'seconds'}, and try again.`,
        );
      }
      pace.tried(place);
      if (!(await lock.verify(password))) throw new UserError('wrong-password', 'This is not the password; try again.');
      pace.right(place);
      const { ip = '' } = request;
      const ticket = await lock.sessions.begin({ from: ip, agent: request.get('User-Agent') ?? '' });
      response.cookie(AUTH_COOKIE, ticket, { ...how(request), maxAge: 1000 * SESSION_SECONDS });
      response.status(204).end();
    }),
  );

  router.delete(
    '/session',
    route(async (request, response) => {
      const ticket = ticketOf(request);
      if (ticket !== undefined) await lock.sessions.end(ticket);
      response.clearCookie(AUTH_COOKIE, how(request));
      response.status(204).end();
    }),
  );
  return router;
}

/** The browsers that are let in, for one that is. */
export function sessionsRoutes(lock: PasswordAuth | undefined): Router {
  const router = Router();
  router.get('/sessions', (request, response) => {
    const own = lock?.sessions.idOf(ticketOf(request) ?? '');
    response.json(lock ? lock.sessions.list().map((one) => ({ ...one, own: one.id === own })) : []);
  });
  router.delete(
    '/sessions',
    route(async (request, response) => {
      await lock?.sessions.endOthers(ticketOf(request));
      response.status(204).end();
    }),
  );
  return router;
}
