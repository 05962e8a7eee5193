import { readFile } from 'node:fs/promises';
import { type RequestListener, type Server, createServer } from 'node:http';
import { createServer as createSecure } from 'node:https';
import { type AddressInfo, isIP } from 'node:net';
import { hostname, networkInterfaces } from 'node:os';
import { UserError } from '../../core/errors';

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
  if (isLoopback(address)) return loopback;
  if (address !== '0.0.0.0' && address !== '::') return [...loopback, inUrl(address)];
  const own = Object.values(networkInterfaces()).flatMap((all) => (all ?? []).map((one) => inUrl(one.address)));
  return [...loopback, hostname().toLowerCase(), ...own];
}

async function read(path: string, option: string): Promise<Buffer> {
  return readFile(path).catch((fault: NodeJS.ErrnoException) => {
    throw new UserError('bad-tls', `${path} cannot be read (${fault.code}); check ${option}.`);
  });
}

/**
 * A server, with TLS where files are given.
 * @throws UserError where those are no certificate and key
 */
export async function serverFor(tls: Tls | undefined, listener: RequestListener): Promise<Server> {
  if (!tls) return createServer(listener);
  const [cert, key] = [await read(tls.cert, '--tls-cert'), await read(tls.key, '--tls-key')];
  try {
    return createSecure({ cert, key }, listener);
  } catch (fault) {
    throw new UserError(
      'bad-tls',
      `${tls.cert} and ${tls.key} are no certificate and its key in PEM (${(fault as Error).message}); check both.`,
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
    server.once('error', (fault: NodeJS.ErrnoException) => {
      if (fault.code === 'EADDRINUSE')
        reject(
          new UserError(
            'port-taken',
            `Port ${port} is in use by another program (or another Owl Loom); stop it, or choose another with --port.`,
          ),
        );
      else if (fault.code === 'EACCES')
        reject(
          new UserError(
            'port-forbidden',
            `Port ${port} may not be used by this user; choose one above 1024 with --port.`,
          ),
        );
      else if (fault.code === 'EADDRNOTAVAIL' || fault.code === 'ENOTFOUND' || fault.code === 'EINVAL')
        reject(
          new UserError('bad-address', `This machine has no address ${address}; give one that it has to --listen.`),
        );
      else reject(fault);
    });
    server.listen(port, address, () => resolve((server.address() as AddressInfo).port));
  });
}
