import { UserError } from '../../core/errors';
import { fillDemo } from '../demo';
import { type Running, startAll } from '../start';
import { dataDir } from '../system/home';
import type { Tls } from '../system/listen';
import { ensurePrograms } from '../system/packages';
import { positive } from './options';
import { SERVER_PROGRAMS } from './programs';

const say = (line: string): void => {
  process.stderr.write(`${line}\n`);
};

/** Stops everything once, at the first Ctrl-C or kill, and waits for it. */
function stopOnSignal(running: Running): Promise<void> {
  return new Promise((resolve) => {
    let once = false;
    const stop = (): void => {
      if (once) return;
      once = true;
      say('Stopping …');
      running.stop().then(resolve, (fault: unknown) => {
        say(String(fault));
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

export async function run(demo: boolean, options: StartOptions): Promise<void> {
  const port = positive(options.port, '--port');
  ensurePrograms(SERVER_PROGRAMS, say);
  const limit = process.env.LOOM_UPLOAD_LIMIT;
  const uploadCap = limit === undefined ? undefined : positive(limit, 'LOOM_UPLOAD_LIMIT');
  const running = await startAll({
    root: dataDir(),
    port,
    uploadCap,
    address: options.listen,
    aliases: options.name.map((name) => name.toLowerCase()),
    tls: tlsOf(options),
  });
  const stopped = stopOnSignal(running);
  if (demo) await fillDemo(running, say);
  process.stdout.write(`Owl Loom is at ${running.address}\n`);
  await stopped;
}
