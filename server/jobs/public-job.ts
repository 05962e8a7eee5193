import type { Job } from '../db/entities';

/** A job as the page sees it. */
export type PublicJob = Pick<
  Job,
  'id' | 'kind' | 'targetId' | 'state' | 'title' | 'progress' | 'message' | 'result' | 'createdAt' | 'updatedAt'
>;

/** Leaves out what is only for the server: what was asked for, and how often it was tried. */
export function publicJob({
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
}: Job): PublicJob {
  return { id, kind, targetId, state, title, progress, message, result, createdAt, updatedAt };
}
