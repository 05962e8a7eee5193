import type { Figure } from '../../core/figures/index';
import type { StoredImages } from './maker';

/** Where figures are kept between runs. */
export interface FigureStore {
  get(key: string): Promise<Figure | undefined>;
  set(key: string, figure: Figure): Promise<void>;
}

export interface RunOptions {
  readonly signal?: AbortSignal;
  /** Share of the work done, 0 to 1. */
  readonly onProgress?: (share: number) => void;
  readonly store?: FigureStore;
  /** Images that lie on disk already. */
  readonly stored?: StoredImages;
  /** Bytes that planes and bands may take. */
  readonly memory?: number;
  /** What is on screen waits for this: it goes before other work. */
  readonly urgent?: boolean;
  /** Whether all measurements that can be had are made before the first failure is thrown. */
  readonly pastFailures?: boolean;
}
