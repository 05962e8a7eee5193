import type { PublicJob } from '@owl-loom/api/jobs';
import type { Job } from '../storage/db/entities';

/**
 * A job as the page sees it, without what is only for the server: what was asked for, and how often it was tried. Its result is what the
 * handler of its kind gave.
 */
export const toJobDto = ({ payload: _, attempts: __, ...job }: Job, doing: string | undefined): PublicJob =>
  ({ ...job, doing: doing ?? null }) as PublicJob;
