import type { Job } from '../storage/db/entities';

/** A job as the page sees it, without what is only for the server: what was asked for, and how often it was tried. */
export type PublicJob = Pick<
  Job,
  'id' | 'kind' | 'targetId' | 'state' | 'title' | 'progress' | 'message' | 'result' | 'createdAt' | 'updatedAt'
> & {
  /** What it is at just now, in words; null where it does not say. */
  readonly doing: string | null;
};

export const toJobDto = (
  { id, kind, targetId, state, title, progress, message, result, createdAt, updatedAt }: Job,
  doing: string | undefined,
): PublicJob => ({
  id,
  kind,
  targetId,
  state,
  title,
  progress,
  message,
  result,
  createdAt,
  updatedAt,
  doing: doing ?? null,
});
