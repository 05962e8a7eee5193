import { readFile } from 'node:fs/promises';
import { type RequestListener, type Server, createServer } from 'node:http';
import { createServer as createSecure } from 'node:https';
import { type AddressInfo, isIP } from 'node:net';
import { hostname, networkInterfaces } from 'node:os';
import { UserError } from '@owl-loom/base/errors';

/** Files of a certificate. */
export interface Tls {
  readonly cert: string;
  readonly key: string;
}

export const LOOPBACK = '127.0.0.1';

/** Whether an address is reached from this machine alone. */
export const isLoopback = (address: string): boolean =>
  address === 'localhost' || address === '::1' || /^127(\.\d{1,3}){3}$/.test(address);

/** An address as it stands in a URL. */
export const inUrl = (address: string): string => (isIP(address) === 6 ? `[${address}]` : address);

/** Names by which a server that listens on an address is called: its own, or all of this machine where it listens on every one. */
export function namesFor(address: string): string[] {
  const loopback = [LOOPBACK, 'localhost', '[::1]'];
  if (isLoopback(address)) return [...new Set([...loopback, inUrl(address)])];
  if (address !== '0.0.0.0' && address !== '::') return [...loopback, inUrl(address)];
  const own = Object.values(networkInterfaces()).flatMap((all) => (all ?? []).map((one) => inUrl(one.address)));
  return [...loopback, hostname().toLowerCase(), ...own];
}

/** Addresses that people can open where a server listens on one, the likeliest first: on every one of this machine, those that it has. */
export function addressesFor(address: string, port: number, tls: boolean): string[] {
  const scheme = tls ? 'https' : 'http';
  const usual = port === (tls ? 443 : 80) ? '' : `:${port}`;
  if (address !== '0.0.0.0' && address !== '::') return [`${scheme}://${inUrl(address)}${usual}`];
  const own = Object.values(networkInterfaces())
    .flatMap((all) => all ?? [])
    // Addresses that are good on one wire alone are of no use to a browser.
    .filter((one) => !one.address.startsWith('fe80:') && (one.family === 'IPv4' || address === '::'))
    .sort((a, b) => Number(a.internal) - Number(b.internal));
  return own.map((one) => `${scheme}://${inUrl(one.address)}${usual}`);
}

async function read(path: string, option: string): Promise<Buffer> {
  return readFile(path).catch((error: NodeJS.ErrnoException) => {
    throw new UserError('bad-tls', `${path} cannot be read (${error.code}); check ${option}.`);
  });
}

/** Looks often enough for those who open a connection and say nothing on it to be let go within a minute. */
const limits = { headersTimeout: 30_000, connectionsCheckingInterval: 10_000 } as const;

/** A large file takes as long as it takes: its pace is watched where it comes in. */
function timed<S extends Server>(server: S): S {
  server.requestTimeout = 0;
  return server;
}

/**
 * A server, with TLS where files are given.
 * @throws UserError where those are no certificate and key
 */
export async function serverFor(tls: Tls | undefined, listener: RequestListener): Promise<Server> {
  if (!tls) return timed(createServer(limits, listener));
  const [cert, key] = [await read(tls.cert, '--tls-cert'), await read(tls.key, '--tls-key')];
  try {
    return timed(createSecure({ ...limits, cert, key }, listener));
  } catch (error) {
    throw new UserError(
      'bad-tls',
      `${tls.cert} and ${tls.key} are no certificate and its key in PEM (${(error as Error).message}); check both.`,
    );
  }
}

/**
 * Listens.
 * @returns the port, which is any free one where 0 was asked for
 * @throws UserError where the port or address cannot be had
 */
export function listen(server: Server, port: number, address = LOOPBACK): Promise<number> {
  if (port > 65_535)
    throw new UserError('bad-port', `There is no port ${port}; choose one from 1 to 65535 with --port.`);
  return new Promise((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      if (error.code === 'EADDRINUSE')
        reject(
          new UserError(
            'port-taken',
            `Port ${port} is in use by another program (or another Owl Loom); stop it, or choose another with --port.`,
          ),
        );
      else if (error.code === 'EACCES')
        reject(
          new UserError(
            'port-forbidden',
            `Port ${port} may not be used by this user; choose one above 1024 with --port.`,
          ),
        );
      else if (error.code === 'EADDRNOTAVAIL' || error.code === 'ENOTFOUND' || error.code === 'EINVAL')
        reject(
          new UserError('bad-address', `This machine has no address ${address}; give one that it has to --listen.`),
        );
      else reject(error);
    });
    server.listen(port, address, () => resolve((server.address() as AddressInfo).port));
  });
}
