import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { totalmem } from 'node:os';
import { join } from 'node:path';
import pino from 'pino';
import { UserError } from '../core/errors';
import { makeApp } from './app';
import { answerEarly } from './early';
import { openData } from './db/open';
import { archiveJob, restoreJob } from './jobs/archive';
import { backupJob } from './jobs/backup';
import { importJob } from './jobs/import';
import { Jobs } from './jobs/jobs';
import { measureJob } from './jobs/measure';
import { coverJob } from './jobs/cover';
import { pastJob } from './jobs/past';
import { mendJob } from './jobs/mend';
import { proofJob } from './jobs/proof';
import { renderJob } from './jobs/render';
import { sheetJob } from './jobs/sheet';
import { swatchJob } from './jobs/swatch';
import { type Studio, prepareFolders } from './jobs/studio';
import { Turns } from './jobs/turns';
import { keepUp, upkeep } from './jobs/upkeep';
import { verifyJob } from './jobs/verify';
import { Pool } from './render/pool';
import { newKey, tellAddress } from './system/address';
import { HOME } from './system/home';
import { watchDatabase } from './system/keep-alive';
import { lockFolder } from './system/lock';
import { LogFile } from './system/log-file';
import { checkFolder } from './system/room';

/** Images of a large recipe that are worth keeping for its proof, in bytes; less where the machine has little memory. */
const MOST_KEPT = 2 ** 30;

export interface Running {
  readonly address: string;
  /** What commands of this user show to be let in. */
  readonly key: string;
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
      else reject(fault);
    });
    server.listen(port, '127.0.0.1', () => resolve((server.address() as AddressInfo).port));
  });
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
    const key = newKey();
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
    await checkFolder(root);
    await prepareFolders(root);
    const lines = new LogFile(join(root, 'server.log'));
    undo.push(async () => lines.close());
    const log = pino({ level: process.env.LOOM_LOG ?? 'info' }, lines);
    const database = await watchDatabase(join(root, 'db'), log);
    undo.push(() => database.stop());
    const data = await openData(database.at, { copies: join(root, 'db'), root });
    undo.push(() => data.destroy());
    const pool = new Pool({ gentle: true, keep: Math.min(MOST_KEPT, totalmem() / 12) });
    undo.push(() => pool.close());
    const jobs = new Jobs(data, log);
    const studio: Studio = {
      data,
      pool,
      database: database.at,
      jobs,
      log,
      root,
      hopeless: new Set(),
      uncoverable: new Set(),
      unwoven: new Map(),
      files: new Turns(),
      held: new Set(),
      whole: new Map(),
      mending: new Set(),
    };
    jobs.handle('import', importJob(studio));
    jobs.handle('measure', measureJob(studio));
    jobs.handle('render', renderJob(studio));
    jobs.handle('proof', proofJob(studio));
    jobs.handle('cover', coverJob(studio));
    jobs.handle('sheet', sheetJob(studio));
    jobs.handle('swatch', swatchJob(studio));
    jobs.handle('past', pastJob(studio));
    jobs.handle('mend', mendJob(studio));
    jobs.handle('verify', verifyJob(studio));
    jobs.handle('archive', archiveJob(studio));
    jobs.handle('backup', backupJob(studio));
    jobs.handle('restore', restoreJob(studio));
    undo.push(() => jobs.stop());
    // Before any job is taken up: what is young and spoken of by nothing was left by the run before.
    await upkeep(studio, { quiet: true }).catch((fault: unknown) => log.warn(fault, 'the upkeep could not be done'));
    undo.push(keepUp(studio));
    const app = makeApp(studio, {
      port: () => port,
      web: options.web ?? join(HOME, 'dist/web'),
      uploadCap: options.uploadCap,
    });
    await jobs.start();
    server.off('request', answerEarly);
    server.on('request', app);
    const address = `http://127.0.0.1:${port}`;
    undo.push(await tellAddress(root, { address, key }));
    return { address, key, studio, stop };
  } catch (fault) {
    await stop();
    throw fault;
  }
}
