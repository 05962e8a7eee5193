import { useEffect } from 'react';
import { toast } from 'sonner';
import { isActive } from '../jobs/active';
import { archiveTold, restoreTold } from '../upkeep/archives';
import { api } from './api';
import type { JobRow } from './rows';
import { jobTold, jobsListed, lineChanged, roomTold, store } from './store';

/** How long a page that nobody sees keeps listening: a browser has few lines to one server for all of its pages. */
const UNSEEN = 60_000;

/**
 * Jobs whose failure is told elsewhere: what was to be measured for the screen where it was asked for, why a recipe has no cover in the Loom,
 * why a swatch or an earlier state has no picture beside it.
 */
const QUIET: ReadonlySet<JobRow['kind']> = new Set(['measure', 'cover', 'swatch', 'past']);

/** Work after which the page Health tells something else. */
const HOUSEWIDE: ReadonlySet<JobRow['kind']> = new Set(['mend', 'verify', 'backup', 'restore']);

async function refresh(): Promise<void> {
  const { data } = await store.dispatch(
    api.endpoints.jobs.initiate(undefined, { forceRefetch: true, subscribe: false }),
  );
  if (data) store.dispatch(jobsListed(data));
}

/** Pixels that were damaged, and are made anew by themselves. */
function mendTold(job: JobRow): void {
  const { id, title, state } = job;
  if (state === 'running')
    toast.loading(`The pixels of ${title} are not what was written; they are being made anew from its file.`, { id });
  if (state === 'done') toast.success(`The pixels of ${title} are whole again.`, { id });
  else if (!isActive(job)) toast.dismiss(id);
  if (!isActive(job)) store.dispatch(api.util.invalidateTags(['Stack']));
}

function told(job: JobRow): void {
  store.dispatch(jobTold(job));
  if (job.state === 'done' && job.kind === 'import')
    store.dispatch(api.util.invalidateTags(['Stack', 'Target', 'Sheet', 'Swatch', 'Cover']));
  if (job.state === 'done' && job.kind === 'cover') store.dispatch(api.util.invalidateTags(['Cover']));
  if (job.kind === 'swatch' && (job.state === 'done' || job.state === 'failed'))
    store.dispatch(api.util.invalidateTags(['Swatch', 'Target']));
  if (job.state === 'done' && job.result?.notice) toast(job.result.notice, { duration: 10_000 });
  if (job.kind === 'past' && (job.state === 'done' || job.state === 'failed'))
    store.dispatch(api.util.invalidateTags(['State']));
  if (job.kind === 'mend') mendTold(job);
  if (job.state === 'done' && job.kind === 'archive') archiveTold(job);
  if (job.state === 'done' && job.kind === 'restore') {
    store.dispatch(api.util.invalidateTags(['Target', 'Stack', 'Swatch', 'Sheet', 'Pattern', 'Trash']));
    restoreTold(job);
  }
  if (HOUSEWIDE.has(job.kind) && !isActive(job)) store.dispatch(api.util.invalidateTags(['House']));
  // Each of its pictures is shown as it is ready.
  if (job.kind === 'sheet' && job.state !== 'queued') store.dispatch(api.util.invalidateTags(['Sheet']));
  if (job.state === 'done' && job.kind === 'render') {
    store.dispatch(api.util.invalidateTags(['Export']));
    toast.success(`${job.title} is written; it lies in Exports.`);
  }
  if (job.state === 'failed' && !QUIET.has(job.kind))
    toast.error(job.message ?? `${job.title} failed.`, { duration: 10_000 });
}

/** A line to the server: jobs as they go on, lists anew when one ends. */
function listen(): EventSource {
  const source = new EventSource('/api/events');
  source.addEventListener('hello', () => {
    if (!store.getState().live.online) store.dispatch(api.util.invalidateTags(['Target', 'Stack', 'Export']));
    store.dispatch(lineChanged(true));
    void refresh();
  });
  source.addEventListener('error', () => store.dispatch(lineChanged(false)));
  source.addEventListener('job', ({ data }) => told(JSON.parse(data as string) as JobRow));
  source.addEventListener('room', ({ data }) =>
    store.dispatch(roomTold((JSON.parse(data as string) as { free: number }).free)),
  );
  return source;
}

/**
 * Listens to the server while the page is seen. One that was left, though the browser may still hold it for the way back, and one that has
 * long been out of sight give their line up; what went on meanwhile is asked for when it is seen again.
 */
export function useServerEvents(): void {
  useEffect(() => {
    let source: EventSource | undefined = listen();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const open = (): void => {
      clearTimeout(timer);
      if (source) return;
      store.dispatch(api.util.invalidateTags(['Target', 'Stack', 'Export', 'Cover']));
      source = listen();
    };
    const close = (): void => {
      clearTimeout(timer);
      source?.close();
      source = undefined;
    };
    const seen = (): void => {
      if (document.visibilityState === 'visible') open();
      else timer = setTimeout(close, UNSEEN);
    };
    window.addEventListener('pagehide', close);
    window.addEventListener('pageshow', open);
    document.addEventListener('visibilitychange', seen);
    return () => {
      window.removeEventListener('pagehide', close);
      window.removeEventListener('pageshow', open);
      document.removeEventListener('visibilitychange', seen);
      close();
    };
  }, []);
}
