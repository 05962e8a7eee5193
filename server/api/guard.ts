import type { RequestHandler } from 'express';
import helmet from 'helmet';
import { UserError } from '../../core/errors';

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

/**
 * Refuses requests that a foreign page could have made this browser send: the Host must be this machine, and an Origin our own.
 * @param port that the server listens on
 */
export function onlyLocal(port: () => number): RequestHandler {
  return (request, _response, next) => {
    const names = ['127.0.0.1', 'localhost', '[::1]'].map((name) => `${name}:${port()}`);
    if (!names.includes(request.headers.host ?? '')) {
      next(
        new UserError('foreign-host', `Owl Loom answers only on this machine; open it at http://127.0.0.1:${port()}.`),
      );
      return;
    }
    const { origin } = request.headers;
    if (origin !== undefined && !names.some((name) => origin === `http://${name}`)) {
      next(new UserError('foreign-origin', 'Owl Loom takes no requests from other pages.'));
      return;
    }
    next();
  };
}
