import { hasCacheableStep } from '@owl-loom/engine/cacheable-nodes';
import type { RequestedMeasurement } from '@owl-loom/engine/measurement-plan';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { Unfinished } from '@owl-loom/engine/measurements/failures';
import type { Domain } from '@owl-loom/image/pixel-function';
import { noiseRequests, backgroundRequests } from './noise-measurements';
import type { WorkerClient } from '../engine/worker-client';
import { jobEnd, fetchMeasurements } from '../engine/measurements';
import { api } from '../store/api';
import { store } from '../store/store';

/** How long the recipe must rest before its measurements are taken at full size. */
const SETTLE = 350;
/** How long measurements wait for the first picture, which both cores are needed for. */
const FIRST = 700;
/** How long all must have rested, settled, before the proof is begun: it takes both cores. */
const PROOF_REST = 500;

/** What is being settled: a state of a recipe, looked at in one way. */
export interface RefinementTarget {
  readonly recipe: Recipe;
  readonly path: string;
  readonly anchor?: string;
}

const same = (a: RefinementTarget | undefined, b: RefinementTarget): boolean =>
  a?.recipe === b.recipe && a.path === b.path && a.anchor === b.anchor;

/**
 * Turns what was estimated for the screen into the truth when things rest: first the measurements, measured at full size by the server, then the
 * proof, the picture at its true full size. A newer state ends the work on an older one.
 */
export class RefinementScheduler {
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** What has been opened and not changed since. */
  private fresh: RefinementTarget | undefined;
  private work: { matter: RefinementTarget; controller: AbortController } | undefined;

  constructor(
    private readonly target: string,
    private readonly engine: WorkerClient,
    private readonly domainOf: (path: string) => Domain | undefined,
    private readonly again: () => void,
    /** Hears what could not be measured. */
    private readonly onUnfinished: (unfinished: Unfinished) => void,
    /** Hears which job measures what the picture waits for. */
    private readonly onJob: (id: string | undefined) => void = () => undefined,
  ) {}

  /** A picture has come; if it shows something new, that is settled once it has rested. */
  onPicture(matter: RefinementTarget): void {
    if (same(this.work?.matter, matter)) return;
    clearTimeout(this.timer);
    if (same(this.fresh, matter)) void this.begin(matter, 0);
    else this.timer = setTimeout(() => void this.begin(matter), SETTLE);
  }

  /**
   * A recipe has been opened, and no hand is at it yet: its measurements are taken as soon as something is on the screen, and do not wait for
   * that long.
   */
  opened(matter: RefinementTarget): void {
    this.fresh = matter;
    this.timer = setTimeout(() => void this.begin(matter, 0), FIRST);
  }

  /** The recipe has changed: measurements on their way belong to a state that is gone. */
  changed(): void {
    clearTimeout(this.timer);
    this.fresh = undefined;
    this.work?.controller.abort();
    this.work = undefined;
  }

  /** @param rest how long all must have rested before the proof is begun */
  private async begin(matter: RefinementTarget, rest = PROOF_REST): Promise<void> {
    this.work?.controller.abort();
    const controller = new AbortController();
    this.work = { matter, controller };
    const { signal } = controller;
    if (await this.figures(matter, signal, this.seenOf(matter))) {
      await this.proof(matter, signal, rest);
      // What the picture does not hang on waits until it is as it will be.
      await this.figures(matter, signal, noiseRequests(matter.recipe, this.domainOf));
    }
  }

  /** What is looked at beside the picture, and the tone that brightens it. */
  private seenOf({ path, anchor }: RefinementTarget): RequestedMeasurement[] {
    return [
      ...backgroundRequests([anchor ?? path], this.domainOf),
      ...[...this.engine.requestedMeasurements.values()].flat(),
    ];
  }

  /** Gets the true measurements; false where that failed or was overtaken. */
  private async figures(
    { recipe, path }: RefinementTarget,
    signal: AbortSignal,
    also: readonly RequestedMeasurement[],
  ): Promise<boolean> {
    const request = { target: this.target, recipe, paths: [path], also: [...also] };
    const trouble = await fetchMeasurements(
      request,
      async ({ figures, failed }) => {
        const unfinished = await this.engine.ask({ type: 'figures', figures, failed });
        if (!signal.aborted) this.onUnfinished(unfinished);
      },
      signal,
      this.onJob,
    );
    if (signal.aborted) return false;
    // What the images do not allow to measure stays so until something changes; a request that did not get through is made again.
    if (trouble && !trouble.tried) this.work = undefined;
    this.again();
    return trouble === undefined;
  }

  private async proof({ recipe, path }: RefinementTarget, signal: AbortSignal, rest: number): Promise<void> {
    // Levels of linear images are averages of the very pixels; only what has been bent, or what comes after a kept image, needs a proof.
    if (this.domainOf(path) !== 'stretched' && !hasCacheableStep(recipe)) return;
    await new Promise((resolve) => setTimeout(resolve, rest));
    for (let round = 0; round < 2 && !signal.aborted; round++) {
      const { data } = await store.dispatch(api.endpoints.proof.initiate({ target: this.target, recipe, path }));
      if (data?.job && signal.aborted) void store.dispatch(api.endpoints.cancelJob.initiate(data.job));
      if (!data || signal.aborted) return;
      if (!data.job) {
        for (const hash of [...data.kept, data.pixels]) await this.engine.ask({ type: 'proof', hash });
        this.again();
        return;
      }
      await jobEnd(data.job, signal);
    }
  }
}
