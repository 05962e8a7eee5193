import type { JobRow } from '@owl-loom/api/jobs';

/** Whether a job waits or is at work. */
export const isActive = (job: Pick<JobRow, 'state'> | undefined): boolean =>
  job?.state === 'queued' || job?.state === 'running';
