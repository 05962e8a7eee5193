import { isIP } from 'node:net';
import { UserError } from '@owl-loom/base/errors';
import { fillDemo } from './demo';
import { type RunningServer, startAll } from '../main/start';
import { dataDir } from '../system/home';
import { type Tls, isLoopback } from '../system/listen';
import { wordOnOthers } from '../system/other-users';
import { ensurePrograms } from '../system/packages';
import { positive } from './options';
import { SERVER_PROGRAMS } from './programs';

const say = (line: string): void => {
  process.stderr.write(`${line}\n`);
};

/** How long stopping may take, ms. */
const LONGEST_STOP = 9000;

/** Stops everything once, at the first Ctrl-C or kill, and waits for it. */
function stopOnSignal(running: RunningServer): Promise<void> {
  return new Promise((resolve) => {
    let once = false;
    const stop = (): void => {
      if (once) return;
      once = true;
      say('Stopping …');
      // Whatever still runs then is put down hard; the next start takes up what it was at.
      setTimeout(() => process.exit(1), LONGEST_STOP).unref();
      running.stop().then(resolve, (error: unknown) => {
        say(String(error));
        resolve();
      });
    };
    process.on('SIGINT', stop);
    process.on('SIGTERM', stop);
    process.on('SIGHUP', stop);
  });
}

interface StartOptions {
  readonly port: string;
  readonly listen: string;
  readonly name: readonly string[];
  readonly proxy: readonly string[];
  readonly tlsCert?: string;
  readonly tlsKey?: string;
}

/** @throws UserError where one of the two files is named without the other */
function tlsOf({ tlsCert: cert, tlsKey: key }: StartOptions): Tls | undefined {
  if (cert === undefined && key === undefined) return undefined;
  if (cert === undefined || key === undefined)
    throw new UserError('bad-option', 'TLS takes both --tls-cert and --tls-key; give both, or neither.');
  return { cert, key };
}

/** @throws UserError where one is no address */
function proxiesOf({ proxy }: StartOptions): readonly string[] {
  for (const one of proxy)
    if (isIP(one.replace(/\/\d{1,3}$/, '')) === 0)
      throw new UserError(
        'bad-option',
        `--proxy takes the address from which a proxy comes, such as 127.0.0.1, not "${one}".`,
      );
  return proxy;
}

/** Says where it is, and what is to be known of that. */
function tellWhere({ addresses }: RunningServer, { listen, proxy }: StartOptions, tls: boolean): void {
  const [first, ...others] = addresses;
  process.stdout.write(`Owl Loom is at ${first}\n`);
  for (const other of others) say(`and at ${other}`);
  if (!isLoopback(listen) && !tls && proxy.length === 0)
    say(
      'Passwords and pictures go over the wire as they are, for anyone on it to read: give --tls-cert and --tls-key, or put a proxy with TLS before it (docs/security.md).',
    );
}

export async function run(demo: boolean, options: StartOptions): Promise<void> {
  const port = positive(options.port, '--port');
  ensurePrograms(SERVER_PROGRAMS, say);
  const limit = process.env.LOOM_UPLOAD_LIMIT;
  const uploadCap = limit === undefined ? undefined : positive(limit, 'LOOM_UPLOAD_LIMIT');
  const tls = tlsOf(options);
  const running = await startAll({
    root: dataDir(),
    port,
    uploadCap,
    address: options.listen,
    aliases: options.name.map((name) => name.toLowerCase()),
    proxies: proxiesOf(options),
    tls,
  });
  if (running.wasOpen) say(`Other users of this machine could read ${dataDir()}; it is closed to them now.`);
  const word = running.services.hasPassword ? undefined : await wordOnOthers(dataDir());
  if (word) say(word);
  const stopped = stopOnSignal(running);
  if (demo) await fillDemo(running, say);
  tellWhere(running, options, tls !== undefined);
  await stopped;
}
