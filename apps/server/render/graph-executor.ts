import type { TallyMap } from '@owl-loom/engine/evaluator';
import type { Graph } from '@owl-loom/engine/graph';
import {
  propagateMeasurement,
  measurementsRequiredBy,
  prerequisitesOf,
  directPlan,
  type KeyedMeasurement,
  type MeasurementPlan,
} from '@owl-loom/engine/measurement-plan';
import { failureAt } from '@owl-loom/engine/measurements/failures';
import { UserError } from '@owl-loom/base/errors';
import { MEASUREMENT_KINDS, type Measurement, type MeasurementSpec } from '@owl-loom/engine/measurements/index';
import { mergePlanes } from '@owl-loom/engine/measurements/planes';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { type MeasurementTask, planTasks } from './measurement-tasks';
import { shareMeasurement } from '../worker-tasks/shared-measurement';
import type { WorkerPool, TaskOptions } from '../workers/worker-pool';
import type { CachedImage } from '../workers/image-cache';
import { ReferencedImages, type ImageAt } from './referenced-images';
import { ImageRenderer } from './image-renderer';
import { RunProgress } from './run-progress';
import type { RunOptions } from './run-options';
import type { SharedRaster } from '../pixels/shared-raster';
import type { GraphInput } from '../worker-tasks/graph-input';

/** Runs a graph at full size: measures what is missing, then computes in bands over all cores. */
export class GraphExecutor {
  readonly figures = new Map<string, Measurement>();
  /** Measurements that the images do not allow, by key. */
  readonly failures = new Map<string, UserError>();
  /** Errors of measurements themselves, and not of the images that they are made on. */
  private readonly refusals = new WeakSet<UserError>();
  private readonly progress: RunProgress;
  private readonly images: ReferencedImages;
  private readonly maker: ImageRenderer;
  private readonly how: TaskOptions;

  constructor(
    private readonly pool: WorkerPool,
    private readonly graph: Graph,
    scene: GraphInput,
    private readonly options: RunOptions = {},
  ) {
    this.progress = new RunProgress(options);
    this.how = { signal: options.signal, interactive: options.interactive };
    const onStep = (share: number) => this.progress.step(share);
    const { memory, stored } = options;
    this.maker = new ImageRenderer(pool, graph, scene, this.figures, { ...this.how, memory, stored, onStep });
    this.images = new ReferencedImages(pool, this.maker);
  }

  /** Pixels counted on the way, by node. */
  get tallies(): TallyMap {
    return this.maker.tallies;
  }

  /** Milliseconds spent in each node's own kernel. */
  get times(): ReadonlyMap<number, number> {
    return this.maker.times;
  }

  /** Takes all measurements that a node depends on, and those asked for besides. */
  async measure(node: number | undefined, also: readonly KeyedMeasurement[] = []): Promise<void> {
    const wanted = [...(node === undefined ? [] : measurementsRequiredBy(this.graph, node)), ...also];
    const tasks = await planTasks(this.graph, wanted, this.figures, this.options.store);
    for (const { way } of tasks.values()) {
      if (way.by !== 'measuring') continue;
      this.progress.expect();
      this.progress.plan(way.images.length + 1);
      for (const image of way.images) this.images.retain(image);
    }
    try {
      await this.runAll(tasks);
    } finally {
      this.images.clear();
    }
  }

  /** Runs tasks as soon as what they depend on is known, as many side by side as there are cores. */
  private async runAll(tasks: ReadonlyMap<string, MeasurementTask>): Promise<void> {
    const left = new Set([...tasks.values()].sort((a, b) => b.priority - a.priority));
    const running = new Set<Promise<void>>();
    const keeping: Promise<void>[] = [];
    const isReady = ({ way }: MeasurementTask) =>
      prerequisitesOf(this.graph, way).every(({ key }) => this.figures.has(key));
    try {
      while (left.size > 0 || running.size > 0) {
        while (this.propagateOne(left, isReady, keeping));
        if (left.size === 0 && running.size === 0) break;
        for (const task of left) {
          if (running.size >= this.pool.threads) break;
          if (!isReady(task)) continue;
          left.delete(task);
          const work: Promise<void> = this.runTask(task)
            .catch((error: unknown) => this.failed(task, error))
            .finally(() => running.delete(work));
          running.add(work);
        }
        this.prefetchImage(left, running);
        if (running.size === 0 && this.failures.size > 0) break;
        if (running.size === 0) throw new Error('figures wait for each other');
        await Promise.race(running);
      }
      await Promise.all(keeping);
      const failed =
        [...tasks.keys()].find((key) => this.failures.has(key)) ?? (left.size > 0 && [...this.failures.keys()][0]);
      if (failed) throw this.failures.get(failed);
    } finally {
      // One that has failed must not leave others at work behind it.
      await Promise.allSettled([...running, ...keeping]);
    }
  }

  /** While a thread is free and the screen waits, an image is made that a measurement will be taken on whose own measurements are not known yet. */
  private prefetchImage(left: ReadonlySet<MeasurementTask>, running: Set<Promise<void>>): void {
    if (!this.options.interactive || running.size >= this.pool.threads) return;
    const canBeMade = (node: number): boolean =>
      measurementsRequiredBy(this.graph, node).every(({ key }) => this.figures.has(key));
    for (const { way, priority } of left)
      for (const image of way.by === 'measuring' ? way.images : []) {
        if (this.images.has(image) || !canBeMade(image.node)) continue;
        // Whoever measures on it is told of its faults.
        const work: Promise<void> = this.images.acquire(image, priority).then(
          () => void running.delete(work),
          () => void running.delete(work),
        );
        running.add(work);
        return;
      }
  }

  /** Carries one measurement over to where it is wanted: that takes no thread, and others may stand on it, so it goes before all else. */
  private propagateOne(
    left: Set<MeasurementTask>,
    isReady: (task: MeasurementTask) => boolean,
    keeping: Promise<void>[],
  ): boolean {
    for (const task of left) {
      if (task.way.by !== 'carrying' || task.notPropagatable || !isReady(task)) continue;
      const figure = propagateMeasurement(this.graph, task.way, this.figures);
      // What the lines do not allow to carry over is measured.
      task.notPropagatable = figure === undefined;
      if (!figure) continue;
      left.delete(task);
      this.figures.set(task.key, figure);
      const kept = this.keepFigure(task.key, figure);
      // Whether it could be kept is asked at the end; until then nobody listens, which would end the process.
      kept.catch(() => undefined);
      keeping.push(kept);
      this.progress.step(1);
      return true;
    }
    return false;
  }

  private async keepFigure(key: string, figure: Measurement): Promise<void> {
    await this.options.store?.set(key, figure);
  }

  /** Keeps a failure with its step and goes on, or ends the run; what depends on it is never ready. */
  private failed(task: MeasurementTask, error: unknown): void {
    if (!(error instanceof UserError) || this.options.signal?.aborted) throw error;
    // A file that is missing may be there the next time; what the images do not allow stays so.
    if (!this.refusals.has(error)) throw error;
    const at = failureAt(this.graph, task, error);
    if (!this.options.pastFailures) throw at;
    this.failures.set(task.key, at);
  }

  private async runTask(task: MeasurementTask): Promise<void> {
    const end = this.progress.begin(task.spec);
    try {
      this.figures.set(task.key, await this.measuredOnce(task));
    } finally {
      end();
    }
    this.progress.step(1);
  }

  /** A measurement that another job is measuring at this moment is waited for. */
  private async measuredOnce({ key, spec, way, priority }: MeasurementTask): Promise<Measurement> {
    const { inFlight: measuring } = this.pool;
    for (let other = measuring.get(key); other; other = measuring.get(key)) {
      const found = await other;
      this.options.signal?.throwIfAborted();
      if (found) {
        if (way.by === 'measuring') for (const image of way.images) this.images.release(image);
        return found;
      }
      // The other was stopped, or could not; then this one tries.
    }
    const own = this.measured(spec, way, priority).then(async (figure) => {
      await this.options.store?.set(key, figure);
      return figure;
    });
    const settled = own.catch(() => undefined);
    measuring.set(key, settled);
    try {
      return await own;
    } finally {
      if (measuring.get(key) === settled) measuring.delete(key);
    }
  }

  private async measured(spec: MeasurementSpec, way: MeasurementPlan, priority: number): Promise<Measurement> {
    if (way.by === 'measuring') return this.measureOne(spec, way, priority);
    // The lines did not allow to carry it over: now it is measured after all, with what that stands on.
    const plain = directPlan(this.graph, spec);
    const under = await planTasks(this.graph, prerequisitesOf(this.graph, plain), this.figures, this.options.store);
    await this.runAll(under);
    return this.measureOne(spec, plain, priority);
  }

  private async measureOne(
    spec: MeasurementSpec,
    { images: looked, dependencies: under }: MeasurementPlan & { by: 'measuring' },
    priority: number,
  ): Promise<Measurement> {
    const how = { ...this.how, priority };
    const images = await Promise.all(looked.map(async (image) => (await this.image(image, priority)).raster));
    const on = under.map(({ key }) => shareMeasurement(key, this.required(key)));
    const planes = images[0]?.planes.length ?? 1;
    try {
      if (planes === 1 || MEASUREMENT_KINDS[spec.kind].planes === 'together') {
        return await this.measureIn({ spec, images, on }, how);
      }
      // Plane by plane, so that a colour image keeps several cores busy.
      const parts = Array.from({ length: planes }, (_, p) => {
        const own = images.map(({ rect, planes: all }) => ({ rect, planes: [all[all.length === 3 ? p : 0]] }));
        return this.measureIn({ spec, images: own, on }, how);
      });
      return mergePlanes(await Promise.all(parts));
    } finally {
      for (const image of looked) this.images.release(image);
    }
  }

  /** Measures in a thread, and remembers an error that the images themselves brought about. */
  private async measureIn(...task: Parameters<WorkerPool['measure']>): Promise<Measurement> {
    try {
      return await this.pool.measure(...task);
    } catch (error) {
      if (error instanceof UserError) this.refusals.add(error);
      throw error;
    }
  }

  /** The node's pixels in `rect`, whole in shared memory. */
  async render(node: number, rect: Rect): Promise<SharedRaster> {
    this.progress.plan(1);
    const { raster } = await this.maker.whole(node, rect);
    this.options.onProgress?.(1);
    return raster;
  }

  /** The node's pixels in `rect`, made whole and kept for whatever comes next; held until it is let go. */
  async renderToCache(node: number, rect: Rect): Promise<CachedImage> {
    this.progress.plan(1);
    const image = await this.maker.acquire(node, rect);
    this.options.onProgress?.(1);
    return image;
  }

  release(image: CachedImage): void {
    this.pool.images.release(image);
  }

  /** The node's pixels on a coarse level, from that level of the stacks alone; the measurements are those of full size. */
  renderAtLevel(node: number, rect: Rect, level: number): Promise<SharedRaster> {
    return this.maker.small(node, rect, level);
  }

  /** A whole image to be measured. */
  private image(image: ImageAt, priority: number): Promise<CachedImage> {
    if (this.images.has(image)) this.progress.step(1);
    return this.images.acquire(image, priority);
  }

  private required(key: string): Measurement {
    const figure = this.figures.get(key);
    if (!figure) throw new Error('a figure was not measured before it was needed');
    return figure;
  }
}
