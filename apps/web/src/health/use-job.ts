import { useAppSelector } from '../store/store';
import type { JobRow } from '@owl-loom/api/jobs';

/** The newest job of a kind, as far as this page has heard of it. */
export function useNewest(kind: JobRow['kind']): JobRow | undefined {
  const jobs = useAppSelector((state) => state.live.jobs);
  return Object.values(jobs)
    .filter((job) => job.kind === kind)
    .sort((a, b) => b.createdAt.localeCompare(a.createdAt))
    .at(0);
}
