import { existsSync } from 'node:fs';
import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { totalmem } from 'node:os';
import { join } from 'node:path';
import pino from 'pino';
import { UserError } from '../core/errors';
import { makeApp } from './app';
import { answerEarly } from './early';
import { openData } from './db/open';
import { importJob } from './jobs/import';
import { Jobs } from './jobs/jobs';
import { measureJob } from './jobs/measure';
import { coverJob } from './jobs/cover';
import { proofJob } from './jobs/proof';
import { renderJob } from './jobs/render';
import { sheetJob } from './jobs/sheet';
import { swatchJob } from './jobs/swatch';
import { type Studio, prepareFolders, sweepStacks } from './jobs/studio';
import { Turns } from './jobs/turns';
import { Pool } from './render/pool';
import { HOME } from './system/home';
import { startDatabase } from './system/mariadb';

/** Images of a large recipe that are worth keeping for its proof, in bytes; less where the machine has little memory. */
const MOST_KEPT = 2 ** 30;

export interface Running {
  readonly address: string;
  readonly studio: Studio;
  stop(): Promise<void>;
}

export interface StartOptions {
  /** Folder of all data. */
  readonly root: string;
  /** 0 takes any free one. */
  readonly port: number;
  readonly uploadCap?: number;
  readonly web?: string;
}

function listen(server: ReturnType<typeof createServer>, port: number): Promise<number> {
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
      else reject(fault);
    });
    server.listen(port, '127.0.0.1', () => resolve((server.address() as AddressInfo).port));
  });
}

/** Takes the folder for this process; a lock of a process that is gone counts for nothing. */
async function lockFolder(root: string): Promise<() => Promise<void>> {
  await mkdir(root, { recursive: true });
  const file = join(root, 'loom.pid');
  const pid = existsSync(file) ? Number(await readFile(file, 'utf8')) : 0;
  const command =
    pid && pid !== process.pid && existsSync(`/proc/${pid}/cmdline`)
      ? await readFile(`/proc/${pid}/cmdline`, 'utf8')
      : '';
  if (command.includes('node')) {
    throw new UserError(
      'already-running',
      `Another Owl Loom (process ${pid}) is running on the data in ${root}; use that one, or stop it first.`,
    );
  }
  await writeFile(file, `${process.pid}\n`);
  return () => rm(file, { force: true });
}

/** Starts everything: database, jobs, server on 127.0.0.1. What was started is stopped again if a later part fails. */
export async function startAll(options: StartOptions): Promise<Running> {
  const { root } = options;
  const undo: (() => Promise<void>)[] = [];
  const stop = async () => {
    for (const step of undo.splice(0).reverse()) await step();
  };
  try {
    let port = options.port;
    // From the first moment on every request gets an answer.
    const server = createServer(answerEarly);
    // The port first: it is the likeliest to fail, and the quickest.
    port = await listen(server, port);
    undo.push(
      () =>
        new Promise((resolve) => {
          server.close(() => resolve());
          server.closeAllConnections();
        }),
    );
    undo.push(await lockFolder(root));
    await prepareFolders(root);
    const log = pino(
      { level: process.env.LOOM_LOG ?? 'info' },
      pino.destination({ dest: join(root, 'server.log'), sync: true }),
    );
    const dbDir = join(root, 'db');
    let database = await startDatabase(dbDir);
    let stopping = false;
    const watch = (): void => {
      void database.ended
        .then(async () => {
          if (stopping) return;
          log.error('the database ended by itself; it is started again');
          // A short wait, so that a database that dies at once does not keep a core busy.
          await new Promise((resolve) => setTimeout(resolve, 3000));
          if (stopping) return;
          database = await startDatabase(dbDir);
          watch();
        })
        .catch((fault: unknown) => log.fatal(fault, 'the database does not start again'));
    };
    watch();
    undo.push(() => {
      stopping = true;
      return database.stop();
    });
    const data = await openData(database);
    undo.push(() => data.destroy());
    const pool = new Pool({ gentle: true, keep: Math.min(MOST_KEPT, totalmem() / 12) });
    undo.push(() => pool.close());
    const jobs = new Jobs(data, log);
    const studio: Studio = {
      data,
      pool,
      jobs,
      log,
      root,
      hopeless: new Set(),
      uncoverable: new Set(),
      unwoven: new Map(),
      files: new Turns(),
    };
    jobs.handle('import', importJob(studio));
    jobs.handle('measure', measureJob(studio));
    jobs.handle('render', renderJob(studio));
    jobs.handle('proof', proofJob(studio));
    jobs.handle('cover', coverJob(studio));
    jobs.handle('sheet', sheetJob(studio));
    jobs.handle('swatch', swatchJob(studio));
    undo.push(() => jobs.stop());
    await sweepStacks(studio);
    const app = makeApp(studio, {
      port: () => port,
      web: options.web ?? join(HOME, 'dist/web'),
      uploadCap: options.uploadCap,
    });
    await jobs.start();
    server.off('request', answerEarly);
    server.on('request', app);
    return { address: `http://127.0.0.1:${port}`, studio, stop };
  } catch (fault) {
    await stop();
    throw fault;
  }
}
