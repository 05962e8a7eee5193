import type { JobKind, JobPayload, JobResult } from '@owl-loom/api/jobs';
import type { Job } from '../storage/db/entities';

/** What a handler may use: what was asked for, the way to stop, and the way to say how far it is. */
export interface JobRun<K extends JobKind = JobKind> {
  readonly job: Job;
  readonly payload: JobPayload<K>;
  /** The job's target; empty for work on the whole server. */
  readonly targetId: string;
  readonly signal: AbortSignal;
  readonly progress: (share: number) => void;
  /** Says what it is at just now; it goes to the page with the progress. */
  readonly doing: (what: string) => void;
}

export type JobHandler<K extends JobKind> = (run: JobRun<K>) => Promise<JobResult<K>>;

/**
 * Kinds of jobs in the order in which they are taken up: repairs, since others wait for them; what a screen waits for; work that someone
 * began; pictures that someone looks at; pictures that will be looked at.
 */
export const LANES = ['repair', 'screen', 'work', 'viewed', 'background'] as const;

/** How jobs of a kind are done. */
export interface JobWork<K extends JobKind> {
  readonly lane: (typeof LANES)[number];
  readonly run: JobHandler<K>;
}
/** Every kind has its work: one that is forgotten does not compile. */
export type JobTable = { readonly [K in JobKind]: JobWork<K> };
