import { setTimeout as delay } from 'node:timers/promises';
import type { RequestListener, Server, ServerResponse } from 'node:http';
import { join } from 'node:path';
import pino, { type Logger } from 'pino';
import { UserError } from '@owl-loom/base/errors';
import { makeApp } from '../http/app';
import { respondStarting, respondStopping } from '../http/unavailable';
import { openData } from '../storage/db/open';
import { recordVersion } from '../storage/db/record-version';
import { jobTable } from '../jobs';
import { MemorySemaphore } from '../sync/memory-semaphore';
import { DeletionLock } from '../sync/deletion-lock';
import { JobQueue } from '../queue/job-queue';
import { IntegrityCheckMemo } from '../sync/integrity-check-memo';
import { type Services, prepareFolders } from '../services/services';
import { KeyedMutex } from '../sync/keyed-mutex';
import { scheduleMaintenance, runMaintenance } from '../maintenance/run-maintenance';
import { WorkerPool } from '../workers/worker-pool';
import { translateSystemError } from '../system/system-errors';
import { type Address, newKey, publishAddress } from '../system/address';
import { HOME } from '../system/home';
import { superviseDatabase } from '../system/database-supervisor';
import { LOOPBACK, type Tls, addressesFor, inUrl, isLoopback, listen, namesFor, serverFor } from '../system/listen';
import { lockFolder } from '../system/lock';
import { LogFile } from '../system/log-file';
import { totalMemory } from '../system/memory';
import { PasswordAuth } from '../system/password';
import { closeFolder, keepPrivate } from '../system/private-files';
import { checkFolder } from '../system/disk-space';

/** Images of a large recipe that are worth keeping for its proof, and room for them, in bytes; less where the machine has little memory. */
const MOST_KEPT = 1.5 * 2 ** 30;

/** The share of the machine's memory that imports and renders may need together. */
const SHARED = 0.6;

export interface RunningServer {
  readonly address: string;
  /** Whether others could read the data folder until now. */
  readonly wasOpen: boolean;
  /** What people open, the likeliest first. */
  readonly addresses: readonly string[];
  /** Where commands of this user speak to it, and what they show to be let in. */
  readonly command: Address;
  readonly services: Services;
  stop(): Promise<void>;
}

export interface StartOptions {
  /** Folder of all data. */
  readonly root: string;
  /** 0 takes any free one. */
  readonly port: number;
  readonly uploadCap?: number;
  readonly web?: string;
  /** Address to listen on; this machine alone where none is given. Beyond it, a password must have been set. */
  readonly address?: string;
  /** Names by which it is reached besides, as through a proxy. */
  readonly aliases?: readonly string[];
  /** Addresses of proxies whose word counts on where people come from. */
  readonly proxies?: readonly string[];
  readonly tls?: Tls;
  /** Whether its worker threads give way to other programs, as the page's own; they do where nothing is said. */
  readonly gentle?: boolean;
}

/** Tries of what needs the database while it may be on its way back, and the pause between them, ms. */
const TRIES = 20;
const PAUSE = 500;

/** Does something again for as long as the database is only away: it is being started again meanwhile. */
async function retryWhileDatabaseIsDown<T>(log: Logger, work: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await work();
    } catch (error) {
      if (tries === TRIES || translateSystemError(error)?.code !== 'database-gone') throw error;
      log.warn(error, 'the database went away during the start; that is done again');
      await delay(PAUSE);
    }
  }
}

/** How long what is under way has to be answered when everything stops, ms. */
const LAST_MOMENT = 3000;

/** Waits until all requests are answered, for a moment at most; lines that tell of events never end by themselves. */
async function ended(under: ReadonlySet<ServerResponse>): Promise<void> {
  const until = Date.now() + LAST_MOMENT;
  const waiting = (): boolean => [...under].some((response) => !response.headersSent);
  while (waiting() && Date.now() < until) await delay(20);
}

/** Closes a server with all of its lines. */
const closing = (server: Server) => (): Promise<void> =>
  new Promise((resolve) => {
    server.close(() => resolve());
    server.closeAllConnections();
  });

/** The services with what a run remembers. */
const withState = (
  parts: Pick<Services, 'data' | 'pool' | 'database' | 'jobs' | 'log' | 'root' | 'hasPassword'>,
): Services => ({
  ...parts,
  unmeasurable: new Map(),
  unrenderableCovers: new Set(),
  renderErrors: new Map(),
  fileMutex: new KeyedMutex(),
  memorySemaphore: new MemorySemaphore(totalMemory() * SHARED),
  deletionLock: new DeletionLock(),
  integrityChecks: new IntegrityCheckMemo(),
});

/** Hands requests to whoever answers at that time, and knows which are not answered yet. */
class Reception {
  readonly open = new Set<ServerResponse>();

  constructor(public answer: RequestListener) {}

  readonly listener: RequestListener = (request, response) => {
    this.open.add(response);
    response.once('close', () => this.open.delete(response));
    this.answer(request, response);
  };
}

/** Starts everything: database, jobs, server on 127.0.0.1. What was started is stopped again if a later part fails. */
export async function startAll(options: StartOptions): Promise<RunningServer> {
  const { root } = options;
  const undo: (() => Promise<void>)[] = [];
  const stop = async () => {
    for (const step of undo.splice(0).reverse()) await step();
  };
  try {
    const key = newKey();
    const { address = LOOPBACK, aliases = [], proxies = [], tls } = options;
    const beyond = !isLoopback(address);
    const lock = await PasswordAuth.of(root);
    if (beyond && !lock)
      throw new UserError(
        'no-password',
        'Listening beyond this machine needs a password. Set one with ./loom password, and start again.',
      );
    // From the first moment on every request gets an answer.
    const reception = new Reception(respondStarting);
    const server = await serverFor(tls, reception.listener);
    // The port first: it is the likeliest to fail, and the quickest.
    const port = await listen(server, options.port, address);
    undo.push(closing(server));
    const ports = [port];
    keepPrivate();
    undo.push(await lockFolder(root));
    await checkFolder(root);
    const wasOpen = await closeFolder(root);
    await prepareFolders(root);
    const lines = new LogFile(join(root, 'server.log'));
    undo.push(async () => lines.close());
    const log = pino({ level: process.env.LOOM_LOG ?? 'info' }, lines);
    if (wasOpen) log.warn({ root }, 'other users could read the data folder; it is closed to them now');
    const database = await superviseDatabase(join(root, 'db'), log);
    undo.push(() => database.stop());
    const data = await retryWhileDatabaseIsDown(log, () => openData(database.at, { copies: join(root, 'db'), root }));
    undo.push(() => data.destroy());
    await recordVersion(data);
    const pool = new WorkerPool({ gentle: options.gentle ?? true, keep: Math.min(MOST_KEPT, totalMemory() / 12) });
    undo.push(() => pool.close());
    const jobs = new JobQueue(data, log);
    const services = withState({ data, pool, database: database.at, jobs, log, root, hasPassword: lock !== undefined });
    undo.push(() => jobs.stop());
    // Before any job is taken up: what is young and spoken of by nothing was left by the run before.
    await runMaintenance(services, { quiet: true }).catch((error: unknown) =>
      log.warn(error, 'the upkeep could not be done'),
    );
    undo.push(scheduleMaintenance(services));
    // Commands of this user come in by a line of their own, where people come in from elsewhere or by TLS.
    let own = `http://${inUrl(address)}:${port}`;
    if (beyond || tls) {
      const aside = await serverFor(undefined, reception.listener);
      const another = await listen(aside, 0);
      undo.push(closing(aside));
      ports.push(another);
      own = `http://${LOOPBACK}:${another}`;
    }
    reception.answer = makeApp(services, {
      called: { ports, names: namesFor(address), aliases },
      auth: lock,
      key,
      proxies,
      tls: tls !== undefined,
      web: options.web ?? join(HOME, 'dist/web'),
      uploadCap: options.uploadCap,
    });
    // What stops first: nothing new is taken on, and what is under way has a moment to be answered.
    undo.push(async () => {
      reception.answer = respondStopping;
      await ended(reception.open);
    });
    await retryWhileDatabaseIsDown(log, () => jobs.start(jobTable(services)));
    const command = { address: own, key };
    undo.push(await publishAddress(root, command));
    return {
      address: `${tls ? 'https' : 'http'}://${inUrl(address)}:${port}`,
      wasOpen,
      addresses: addressesFor(address, port, tls !== undefined),
      command,
      services,
      stop,
    };
  } catch (fault) {
    await stop();
    throw fault;
  }
}
