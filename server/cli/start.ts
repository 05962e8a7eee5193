import type { Command } from 'commander';
import { fillDemo } from '../demo';
import { type Running, startAll } from '../start';
import { dataDir } from '../system/home';
import { ensurePrograms } from '../system/packages';
import { positive } from './options';

/** Programs of Debian packages that the server needs. */
export const SERVER_PROGRAMS = { mariadbd: 'mariadb-server', 'mariadb-install-db': 'mariadb-server' };

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

async function run(demo: boolean, options: { port: string }): Promise<void> {
  const port = positive(options.port, '--port');
  ensurePrograms(SERVER_PROGRAMS, say);
  const running = await startAll({ root: dataDir(), port });
  const stopped = stopOnSignal(running);
  if (demo) await fillDemo(running, say);
  process.stdout.write(`Owl Loom is at ${running.address}\n`);
  await stopped;
}

export function addStart(program: Command): void {
  for (const demo of [true, false]) {
    program
      .command(demo ? 'demo' : 'start')
      .description(demo ? 'start Owl Loom with the demo skies' : 'start Owl Loom with your own data')
      .option('--port <number>', 'port on 127.0.0.1', '4860')
      .action((options: { port: string }) => run(demo, options));
  }
}
