import type { Measurement } from '@owl-loom/engine/measurements/index';
import type { RequestedMeasurement } from '@owl-loom/engine/measurement-plan';
import type { Recipe } from '@owl-loom/recipe/schema';
import { api, faultText } from '../store/api';
import { store } from '../store/store';

const FAILED = 'This could not be measured.';

/** Waits for a job's end as the server's events tell of it; at once where it is given up. */
export function jobEnd(id: string, signal: AbortSignal): Promise<void> {
  return new Promise((resolve) => {
    const ended = (): boolean => {
      const state = store.getState().live.jobs[id]?.state;
      return signal.aborted || state === 'done' || state === 'failed' || state === 'cancelled';
    };
    if (ended()) return resolve();
    const stop = store.subscribe(() => {
      if (ended()) {
        stop();
        resolve();
      }
    });
    const cancel = (): void => {
      void store.dispatch(api.endpoints.cancelJob.initiate(id));
      stop();
      resolve();
    };
    signal.addEventListener('abort', cancel, { once: true });
  });
}

/** What is to be measured at full size. */
export interface MeasureRequest {
  readonly target: string;
  readonly recipe: Recipe;
  readonly paths: string[];
  readonly also: RequestedMeasurement[];
}

/** How long a first picture waits for what is known of it: longer, and one of estimates is better. */
const PATIENCE = 400;

/** Learns what the server knows already of a recipe, as far as it tells that soon. */
export async function fetchKnownMeasurements(request: MeasureRequest, learn: Learn): Promise<void> {
  const asked = store
    .dispatch(api.endpoints.measure.initiate({ ...request, known: true }))
    .then(({ data }) => (data ? learn(data) : undefined));
  await Promise.race([asked, new Promise<void>((resolve) => setTimeout(resolve, PATIENCE))]);
}

/** Takes in what the server knows: measurements, and why others cannot be measured, both by key. */
export type Learn = (reply: {
  readonly figures: Readonly<Record<string, Measurement>>;
  readonly failed: Readonly<Record<string, string>>;
}) => Promise<void>;

/** Why something was not measured. */
export interface MeasurementFailure {
  readonly message: string;
  /** It was tried, and the images do not allow it: trying again is of no use. Else the request did not get so far. */
  readonly tried: boolean;
}

/**
 * Has the server measure what it does not know yet.
 * @param onJob hears which job measures, and that none does any more
 * @param learn is given the measurements that are known, then all of them
 * @returns undefined where all went well or it was given up; else why not, to be told where it was asked for
 */
export async function fetchMeasurements(
  request: MeasureRequest,
  learn: Learn,
  signal: AbortSignal,
  onJob: (id: string | undefined) => void = () => undefined,
): Promise<MeasurementFailure | undefined> {
  for (let round = 0; round < 2; round++) {
    const { data, error } = await store.dispatch(api.endpoints.measure.initiate(request));
    if (signal.aborted) {
      // It was given up while the request was on its way.
      if (data?.job) void store.dispatch(api.endpoints.cancelJob.initiate(data.job));
      return undefined;
    }
    if (!data) return { message: faultText(error), tried: false };
    await learn(data);
    if (signal.aborted) return undefined;
    if (data.obstacle !== null) return { message: data.obstacle, tried: true };
    if (!data.job) return undefined;
    onJob(data.job);
    await jobEnd(data.job, signal);
    onJob(undefined);
    const job = store.getState().live.jobs[data.job];
    // What the images do not allow is told by the next reply; anything else stops here.
    if (!signal.aborted && job?.state === 'failed' && round > 0)
      return { message: job.message ?? FAILED, tried: false };
  }
  return { message: FAILED, tried: false };
}
