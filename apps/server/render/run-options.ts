import type { Measurement, MeasurementSpec } from '@owl-loom/engine/measurements/index';
import type { StoredImages } from './image-renderer';

/** Where measurements are kept between runs. */
export interface MeasurementStore {
  get(key: string): Promise<Measurement | undefined>;
  set(key: string, figure: Measurement): Promise<void>;
}

/** A measurement at work, among all that a run has to make. */
export interface Measuring {
  readonly spec: MeasurementSpec;
  /** The how manieth it is, from 1. */
  readonly number: number;
  readonly of: number;
}

export interface RunOptions {
  readonly signal?: AbortSignal;
  /** Share of the work done, 0 to 1. */
  readonly onProgress?: (share: number) => void;
  /** Hears which measurement is at work, the one begun first where there are several. */
  readonly onMeasuring?: (now: Measuring) => void;
  readonly store?: MeasurementStore;
  /** Images that lie on disk already. */
  readonly stored?: StoredImages;
  /** Bytes that planes and bands may take. */
  readonly memory?: number;
  /** What is on screen waits for this: it goes before other work. */
  readonly interactive?: boolean;
  /** Whether all measurements that can be had are made before the first failure is thrown. */
  readonly pastFailures?: boolean;
}
