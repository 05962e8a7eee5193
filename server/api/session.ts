import express, { Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import { z } from 'zod';
import { UserError } from '../../core/errors';
import { type Lock, STAY } from '../system/password';
import { TICKET } from './guard';
import { checked, route } from './http';

const given = z.strictObject({ password: z.string().max(1000) });
const QUARTER = 15 * 60_000;
/** Tries in a quarter of an hour: from one place, and from all together. */
const TRIES = { one: 10, all: 100 } as const;

const tooMany = (_request: unknown, _response: unknown, next: (fault: unknown) => void): void =>
  next(new UserError('too-many', 'Too many tries; wait a quarter of an hour, and try again.'));

const limited = (limit: number, all = false) =>
  rateLimit({
    windowMs: QUARTER,
    limit,
    standardHeaders: false,
    legacyHeaders: false,
    skipSuccessfulRequests: true,
    // Behind a proxy all come from one place: then the limit for all holds.
    validate: { xForwardedForHeader: false },
    ...(all && { keyGenerator: () => 'all' }),
    handler: tooMany,
  });

/**
 * Lets people in by the password, and out again.
 * @param secure whether the cookie may be sent over TLS alone
 */
export function sessionRoutes(lock: Lock, secure: boolean): Router {
  const router = Router();
  const how = { httpOnly: true, sameSite: 'strict', secure, path: '/' } as const;

  router.post(
    '/session',
    express.json({ limit: '4kb' }),
    limited(TRIES.one),
    limited(TRIES.all, true),
    route(async (request, response) => {
      const { password } = checked(given, request.body);
      if (!(await lock.opens(password))) throw new UserError('wrong-password', 'This is not the password; try again.');
      response.cookie(TICKET, lock.ticket(), { ...how, maxAge: 1000 * STAY });
      response.status(204).end();
    }),
  );

  router.delete(
    '/session',
    route(async (_request, response) => {
      response.clearCookie(TICKET, how);
      response.status(204).end();
    }),
  );
  return router;
}
