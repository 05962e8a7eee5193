import { createHash, timingSafeEqual } from 'node:crypto';
import { parse } from 'cookie';
import type { Request, RequestHandler, Response } from 'express';
import helmet from 'helmet';
import { UserError } from '@owl-loom/base/errors';
import { isLoopback } from '../system/listen';
import type { PasswordAuth } from '../system/password';

/** How long browsers are told to come by TLS alone, in seconds. */
const HALF_A_YEAR = 180 * 24 * 3600;

/**
 * Headers: only our own scripts, no evaluation of text, no frames. Inline styles are allowed, since panels and charts size themselves by them.
 * @param tls whether browsers are told to come by TLS alone
 */
export const headers = (tls: boolean): RequestHandler =>
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        // The kernels in WebAssembly are compiled in the worker.
        scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        workerSrc: ["'self'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'data:', 'blob:'],
        fontSrc: ["'self'"],
        connectSrc: ["'self'"],
        baseUri: ["'none'"],
        formAction: ["'none'"],
        frameAncestors: ["'none'"],
      },
    },
    strictTransportSecurity: tls && { maxAge: HALF_A_YEAR, includeSubDomains: false },
  });

/** What the server calls itself. */
export interface ServerIdentity {
  /** Ports that it listens on. */
  readonly ports: readonly number[];
  /** Names and addresses, as they stand in a URL. */
  readonly names: readonly string[];
  /** Names that are also reached through another port, by a proxy. */
  readonly aliases: readonly string[];
}

/** Whether a host is one of ours, with its port. A name that was given counts as it was given: without a port it stands for none. */
function isOurs(host: string, { ports, names, aliases }: ServerIdentity): boolean {
  const lower = host.toLowerCase();
  if (aliases.includes(lower)) return true;
  return names.some((name) => ports.some((port) => lower === `${name}:${port}` || (port === 80 && lower === name)));
}

/** The host of an Origin; undefined where that is none, such as `null`, or one with a name of a person in it. */
const hostOf = (origin: string): string | undefined => /^https?:\/\/([^/@\s]+)$/.exec(origin)?.[1];

/** Whether people come from elsewhere. */
const beyond = ({ names, aliases }: ServerIdentity): boolean =>
  aliases.length > 0 || names.some((name) => !isLoopback(name.replace(/^\[|\]$/g, '')));

/** Methods that change nothing. */
const SAFE = new Set(['GET', 'HEAD', 'OPTIONS']);

/** What a browser says of where a request began; pages from elsewhere on the same site are not ours either. */
const OWN_SITES = new Set(['same-origin', 'none']);

/**
 * Refuses requests that a foreign page could have made this browser send: the Host must be ours, and named once, an Origin our own, and what
 * changes something must have begun on a page of ours.
 */
export function checkHostAndOrigin(called: ServerIdentity): RequestHandler {
  return (request, _response, next) => {
    const hosts = request.rawHeaders.filter((name, i) => i % 2 === 0 && name.toLowerCase() === 'host').length;
    if (hosts > 1) {
      next(new UserError('bad-request-line', 'A request names one Host; this one names several.'));
      return;
    }
    if (!isOurs(request.headers.host ?? '', called)) {
      next(
        new UserError(
          'foreign-host',
          beyond(called)
            ? 'Unknown host name. Start Owl Loom with --name for each host name it is reached by.'
            : `Owl Loom answers only on this machine; open it at http://127.0.0.1:${called.ports[0]}.`,
        ),
      );
      return;
    }
    const { origin } = request.headers;
    const site = request.get('Sec-Fetch-Site');
    const foreignPage = origin !== undefined && !isOurs(hostOf(origin) ?? '', called);
    const foreignSite = site !== undefined && !OWN_SITES.has(site) && !SAFE.has(request.method);
    if (foreignPage || foreignSite) {
      next(new UserError('foreign-origin', 'Requests from other pages are refused.'));
      return;
    }
    next();
  };
}

/** Name of the cookie that holds a browser's ticket. */
export const AUTH_COOKIE = 'owl_loom';

/** The ticket that a request carries. */
export const ticketOf = ({ headers: { cookie = '' } }: Request): string | undefined => parse(cookie)[AUTH_COOKIE];

const sumOf = (text: string): Buffer => createHash('sha256').update(text).digest();

/** Whether a request shows the key of this run: a command of the same user on the same machine. */
const showsKey = ({ headers: { authorization = '' } }: Request, key: string): boolean =>
  timingSafeEqual(sumOf(authorization), sumOf(`Bearer ${key}`));

/** Whether a request is one of a command of this user: it may do what nobody may from elsewhere. */
export const isCommand = (response: Response): boolean => response.locals.command === true;

/** Lets in who has a ticket, or the key of this run; everyone where no password is set. */
export function requireAuth(lock: PasswordAuth | undefined, key: string): RequestHandler {
  return (request, response, next) => {
    const ticket = ticketOf(request);
    response.locals.command = showsKey(request, key);
    if (!lock || isCommand(response) || (ticket !== undefined && lock.sessions.isValidToken(ticket))) next();
    else next(new UserError('no-session', 'Password required. Open the page of Owl Loom and unlock it.'));
  };
}
