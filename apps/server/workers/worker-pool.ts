import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import Piscina, { queueOptionsSymbol } from 'piscina';
import { UserError, errorCodeOf } from '@owl-loom/base/errors';
import type { Measurement } from '@owl-loom/engine/measurements/index';
import { freeMemory } from '../system/memory';
import type { Manifest } from '../archive-file/manifest';
import type { ManifestTask } from '../archive-file/read-manifest';
import type { RedactTask, Redacted } from '../archive-file/redact';
import type { FileTask, FileWritten } from '../export/write-export';
import { ImageCache } from './image-cache';
import { PriorityTaskQueue } from './priority-queue';
import { PIXEL_BYTES, type SharedRaster, sharedRaster } from '../pixels/shared-raster';
import type { SketchTask } from '../worker-tasks/render-estimate';
import type { SmallTask } from '../worker-tasks/encode-thumbnail';
import type { IntegrityState } from '../pixels/tile-checksums';
import type { UnevenTask } from '../worker-tasks/has-gradient';
import type * as read from '../pixels/inspect-file';
import type { FileInfo } from '../pixels/inspect-file';
import type * as take from '../pixels/import-tasks';
import type * as tasks from '../worker-tasks/render-band';
import type * as worker from './worker';

/** What came back from a worker: faults for people come as data, since an error loses its class on the way. */
export type TaskResult<T> = { ok: T } | { fault: { code: string; message: string; path?: string } };

/** How a task is run. */
export interface TaskOptions {
  /** What stops it. */
  readonly signal?: AbortSignal;
  /** The screen waits for it: other work waits while interactive tasks are under way. */
  readonly interactive?: boolean;
  /** Of tasks that wait for a thread, those of the highest priority go first; 0 where none is given. */
  readonly priority?: number;
}

/** The built worker: beside this file when bundled, in dist/ when run from source (tests). */
const WORKER = new URL(
  import.meta.url.endsWith('.ts') ? '../../../dist/server/worker.js' : './worker.js',
  import.meta.url,
);

/**
 * Options of Node for the threads. They load the worker by `import`: a thread that is ended while it loads an ES module by `require` takes the
 * whole process down, where Node has that way of loading.
 */
const EXEC_ARGV = process.allowedNodeEnvironmentFlags.has('--no-experimental-require-module')
  ? ['--no-experimental-require-module']
  : [];

/** How long a thread rests before it ends, in milliseconds: one that has worked is quicker at it than a new one. */
const REST = 300_000;

/** Planes that must find room in the machine's memory for one to be made ready ahead. */
const LEAVES = 8;

/** Memory for the objects of the thread beside the others, in MB; pixels do not count. */
const ASIDE_MB = 512;

/** Bytes of images that are kept for those who may want them next. */
const KEEP = 192 * 2 ** 20;

function okOf<T>(answer: TaskResult<T>): T {
  if ('fault' in answer) throw new UserError(answer.fault.code, answer.fault.message, answer.fault.path);
  return answer.ok;
}

/** Worker threads that do the heavy work, one a core, and the images that they share. */
export class WorkerPool {
  private readonly piscina: Piscina;
  /** A thread beside the others, for what must not wait until one of them is free: whoever sends a file waits for it. */
  private readonly reservedWorker: Piscina;
  readonly images: ImageCache;
  /** Measurements that are being measured, by key: each job may wait for what another is at. Undefined comes of one that failed. */
  readonly inFlight = new Map<string, Promise<Measurement | undefined>>();
  readonly threads: number;
  private interactive = 0;
  /** Until memory that lies idle is let go. */
  private resting?: NodeJS.Timeout;
  private readonly waiting: (() => void)[] = [];

  /**
   * @param gentle the threads give way to other programs: to the browser, where the page computes what is on screen
   * @param keep bytes of images that are kept for those who may want them next
   * @param aside whether files are looked at in a thread beside the others; where nobody sends any, one thread less is started
   */
  constructor({ threads = availableParallelism(), gentle = false, keep = KEEP, aside = true } = {}) {
    this.threads = threads;
    this.images = new ImageCache(keep);
    this.piscina = new Piscina({
      workerData: { gentle },
      filename: fileURLToPath(WORKER),
      execArgv: EXEC_ARGV,
      minThreads: 1,
      maxThreads: threads,
      idleTimeout: REST,
      // What one pass finds of tens of thousands of stars lives as long as the pass: with less room it would be copied over and over.
      resourceLimits: { maxYoungGenerationSizeMb: 96 },
      // A task waits while all threads are busy; bands come in small numbers at a time, so the queue stays short.
      concurrentTasksPerWorker: 1,
      taskQueue: new PriorityTaskQueue(),
    });
    this.reservedWorker = aside
      ? new Piscina({
          workerData: { gentle },
          filename: fileURLToPath(WORKER),
          execArgv: EXEC_ARGV,
          minThreads: 0,
          maxThreads: 1,
          idleTimeout: 30_000,
          // What comes from outside may be made to take more than there is: then this thread ends, and not the process.
          resourceLimits: { maxOldGenerationSizeMb: ASIDE_MB },
        })
      : this.piscina;
  }

  private async run<T>(name: keyof typeof worker, what: object, how: TaskOptions): Promise<T> {
    const { signal, interactive = false, priority = 0 } = how;
    const task = { ...what, [queueOptionsSymbol]: { priority } };
    return okOf(
      interactive ? await this.runInteractive<T>(name, task, signal) : await this.runBackground<T>(name, task, signal),
    );
  }

  private async runInteractive<T>(
    name: keyof typeof worker,
    task: unknown,
    signal?: AbortSignal,
  ): Promise<TaskResult<T>> {
    this.interactive++;
    try {
      return (await this.piscina.run(task, { name, signal })) as TaskResult<T>;
    } finally {
      if (--this.interactive === 0) for (const go of this.waiting.splice(0)) go();
    }
  }

  private async runBackground<T>(
    name: keyof typeof worker,
    task: unknown,
    signal?: AbortSignal,
  ): Promise<TaskResult<T>> {
    while (this.interactive > 0) await new Promise<void>((resolve) => this.waiting.push(resolve));
    signal?.throwIfAborted();
    return (await this.piscina.run(task, { name, signal })) as TaskResult<T>;
  }

  /** Starts every thread, with all that a recipe needs, before the first recipe asks for it. */
  async warm(): Promise<void> {
    await Promise.all(Array.from({ length: this.threads }, () => this.run('ready', {}, {})));
  }

  /**
   * Makes memory ready for images to come, as much of it as may lie idle: the system clears fresh memory page by page when it is first touched,
   * which would cost the first picture half a second. What is not used is let go after a rest.
   * @param size pixels of a plane
   * @param planes how many there may be
   */
  async preallocate(size: number, planes: number): Promise<void> {
    const { spare } = this.images;
    spare.clear(size);
    const mayTake = () => this.interactive === 0 && freeMemory() > LEAVES * size * PIXEL_BYTES;
    for (let k = 0; k < planes && mayTake() && spare.missing(size, planes) > 0; k++) {
      const fresh = sharedRaster({ x: 0, y: 0, width: size, height: 1 }, 1);
      await this.run('touch', { plane: fresh.planes[0] }, {});
      spare.release(fresh);
    }
    clearTimeout(this.resting);
    this.resting = setTimeout(() => spare.clear(), REST).unref();
  }

  band(task: tasks.BandTask, how: TaskOptions = {}): Promise<tasks.BandResult> {
    return this.run('band', task, how);
  }

  measure(task: tasks.MeasureTask, how: TaskOptions = {}): Promise<Measurement> {
    return this.run('measure', task, how);
  }

  sketch(task: SketchTask, how: TaskOptions = {}): Promise<null> {
    return this.run('sketch', task, how);
  }

  uneven(task: UnevenTask, how: TaskOptions = {}): Promise<boolean> {
    return this.run('uneven', task, how);
  }

  survey(
    task: Parameters<typeof take.measurePlane>[0],
    signal?: AbortSignal,
  ): Promise<ReturnType<typeof take.measurePlane>> {
    return this.run('survey', task, { signal });
  }

  load(task: Parameters<typeof read.loadRows>[0], signal?: AbortSignal): Promise<null> {
    return this.run('load', task, { signal });
  }

  /** Reads all of a file; see `../pixels/inspect-file`. */
  whole(task: Parameters<typeof read.loadFile>[0], signal?: AbortSignal): Promise<number> {
    return this.run('whole', task, { signal });
  }

  /** The number by which a file's pixels are divided. */
  divisor(task: Parameters<typeof read.findDivisor>[0], signal?: AbortSignal): Promise<number> {
    return this.run('divisor', task, { signal });
  }

  edges(
    task: Parameters<typeof take.findBorders>[0],
    signal?: AbortSignal,
  ): Promise<ReturnType<typeof take.findBorders>> {
    return this.run('edges', task, { signal });
  }

  /** Finishes a picture and writes it. */
  file(task: FileTask, signal?: AbortSignal): Promise<FileWritten> {
    return this.run('file', task, { signal });
  }

  /** Turns a whole picture. */
  orient(task: Parameters<typeof worker.oriented>[0], { signal }: TaskOptions = {}): Promise<SharedRaster> {
    return this.run('oriented', task, { signal });
  }

  /** A small picture as a JPEG. */
  small(task: SmallTask, signal?: AbortSignal): Promise<Uint8Array> {
    return this.run('small', task, { signal });
  }

  levels(task: Parameters<typeof take.writeLevels>[0], signal?: AbortSignal): Promise<number[][]> {
    return this.run('levels', task, { signal });
  }

  /** Compares a pyramid with the sums of its tiles. */
  check(dir: string, how: TaskOptions = {}): Promise<IntegrityState> {
    return this.run('check', { dir }, how);
  }

  /** The SHA-256 of a file, beside whatever else is under way. */
  hash(path: string): Promise<string> {
    return this.runReserved('hash', { path });
  }

  /** What a file holds, beside whatever else is under way. */
  look(file: Parameters<typeof read.inspectFile>[0]): Promise<FileInfo> {
    return this.runReserved('look', file);
  }

  /** Bytes of memory that it takes to look at a file, beside whatever else is under way. */
  peek(file: Parameters<typeof read.peek>[0]): Promise<number> {
    return this.runReserved('peek', file);
  }

  /** What an archive says that it holds, beside whatever else is under way. */
  manifest(task: ManifestTask): Promise<Manifest> {
    return this.runReserved('manifest', task);
  }

  /** Copies a file without who and where; see `../archive-file/redact`. */
  redact(task: RedactTask): Promise<Redacted | null> {
    return this.runReserved('redact', task);
  }

  private async runReserved<T>(name: keyof typeof worker, what: object): Promise<T> {
    try {
      return okOf((await this.reservedWorker.run(what, { name })) as TaskResult<T>);
    } catch (error) {
      if (errorCodeOf(error) !== 'ERR_WORKER_OUT_OF_MEMORY') throw error;
      throw new UserError('too-large', 'This file needs too much memory to be read. It was not imported.');
    }
  }

  async close(): Promise<void> {
    await Promise.all([...new Set([this.piscina, this.reservedWorker])].map((threads) => threads.destroy()));
  }
}
