import { parse } from 'cookie';
import type { Request, RequestHandler } from 'express';
import helmet from 'helmet';
import { UserError } from '../../core/errors';
import type { Lock } from '../system/password';

/** Headers: only our own scripts, no evaluation of text, no frames. Inline styles are allowed, since panels and charts size themselves by them. */
export const headers = helmet({
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
  strictTransportSecurity: false,
});

/** What the server calls itself. */
export interface Called {
  /** Ports that it listens on. */
  readonly ports: readonly number[];
  /** Names and addresses, as they stand in a URL. */
  readonly names: readonly string[];
  /** Names that are also reached through another port, by a proxy. */
  readonly aliases: readonly string[];
}

/** Whether a host is one of ours, with its port. */
function isOurs(host: string, { ports, names, aliases }: Called): boolean {
  const lower = host.toLowerCase();
  if (aliases.some((name) => lower === name || lower.startsWith(`${name}:`))) return true;
  return names.some((name) => ports.some((port) => lower === `${name}:${port}` || (port === 80 && lower === name)));
}

/** The host of an Origin; undefined where that is none, such as `null`. */
function hostOf(origin: string): string | undefined {
  return /^https?:\/\/([^/]+)$/.exec(origin)?.[1];
}

/**
 * Refuses requests that a foreign page could have made this browser send: the Host must be ours, and named once, and an Origin our own.
 */
export function onlyOurs(called: Called): RequestHandler {
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
          called.names.length > 3
            ? 'Owl Loom does not answer to this name; start it with --name for each name that it is reached by.'
            : `Owl Loom answers only on this machine; open it at http://127.0.0.1:${called.ports[0]}.`,
        ),
      );
      return;
    }
    const { origin } = request.headers;
    if (origin !== undefined && !isOurs(hostOf(origin) ?? '', called)) {
      next(new UserError('foreign-origin', 'Owl Loom takes no requests from other pages.'));
      return;
    }
    next();
  };
}

/** Name of the cookie that holds a browser's ticket. */
export const TICKET = 'owl_loom';

/** Whether a request shows the key of this run: a command of the same user on the same machine. */
const showsKey = ({ headers: { authorization } }: Request, key: string): boolean => authorization === `Bearer ${key}`;

/** Lets in who has a ticket, or the key of this run. */
export function onlyAdmitted(lock: Lock, key: string): RequestHandler {
  return (request, _response, next) => {
    const ticket = parse(request.headers.cookie ?? '')[TICKET];
    if (showsKey(request, key) || (ticket !== undefined && lock.admits(ticket))) next();
    else next(new UserError('no-session', 'Owl Loom asks for its password first; open its page, and give it there.'));
  };
}
