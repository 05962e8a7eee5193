import { useEffect, useRef } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { isActive } from '../store/active-jobs';
import { onArchiveDone, restoreTold } from '../health/archives';
import { api } from '../store/api';
import type { EventData, EventName, JobRow } from '@owl-loom/api/jobs';
import { jobTold, jobsListed, connectionChanged, diskSpaceReported, store } from '../store/store';

/** How long a page that nobody sees keeps listening: a browser has few lines to one server for all of its pages. */
const UNSEEN = 60_000;

/**
 * Jobs whose failure is told elsewhere: what was to be measured for the screen where it was asked for, why a recipe has no cover in the Loom,
 * why a swatch or an earlier state has no picture beside it.
 */
const QUIET: ReadonlySet<JobRow['kind']> = new Set(['measure', 'cover', 'swatch', 'past']);

/** Work after which the page Health tells something else. */
const SERVER_WIDE: ReadonlySet<JobRow['kind']> = new Set(['mend', 'verify', 'backup', 'restore']);

async function refresh(): Promise<void> {
  const { data } = await store.dispatch(
    api.endpoints.jobs.initiate(undefined, { forceRefetch: true, subscribe: false }),
  );
  if (data) store.dispatch(jobsListed(data));
}

/** Pixels that were damaged, and are made anew by themselves. */
function handleRepairEvent(job: JobRow): void {
  const { id, title, state } = job;
  if (state === 'running')
    toast.loading(`Pixel data of ${title} is damaged; rebuilding it from the original file …`, { id });
  if (state === 'done') toast.success(`Pixel data of ${title} repaired.`, { id });
  else if (!isActive(job)) toast.dismiss(id);
}

/** Id of the target whose screen is open; undefined on the shelf and the pages of the server. */
const openTarget = (): string | undefined => /^\/targets\/([^/]+)/.exec(location.pathname)?.[1];

/** What was kept of other lists is asked for anew where a job changes it. */
function refreshed({ kind, state }: JobRow): void {
  const ended = state === 'done' || state === 'failed';
  const tags = (...names: Parameters<typeof api.util.invalidateTags>[0]): void =>
    void store.dispatch(api.util.invalidateTags(names));
  if (state === 'done' && kind === 'import') tags('Stack', 'Target', 'Sheet', 'Swatch', 'Cover');
  if (state === 'done' && kind === 'cover') tags('Cover');
  if (state === 'done' && kind === 'render') tags('Export');
  if (state === 'done' && kind === 'restore') tags('Target', 'Stack', 'Swatch', 'Sheet', 'Pattern', 'Trash');
  if (ended && kind === 'swatch') tags('Swatch', 'Target');
  if ((ended || state === 'cancelled') && kind === 'mend') tags('Stack');
  if (ended && kind === 'past') tags('State');
  if (SERVER_WIDE.has(kind) && (ended || state === 'cancelled')) tags('ServerStatus');
  // Each of its pictures is shown as it is ready.
  if (kind === 'sheet' && state !== 'queued') tags('Sheet');
}

/** Says how a job went, with its target's name and the way there; of a target that is not open the list of jobs tells. */
async function announceEnd(job: JobRow, go: (path: string) => void): Promise<void> {
  const { state, kind, targetId } = job;
  const here = openTarget();
  if (targetId !== null && here !== undefined && here !== targetId) return;
  if (kind === 'mend') handleRepairEvent(job);
  if (state === 'done' && job.kind === 'archive') onArchiveDone(job);
  if (state === 'done' && job.kind === 'restore') restoreTold(job);
  if (state === 'done' && job.kind === 'import' && job.result?.notice) toast(job.result.notice, { duration: 10_000 });
  if (state === 'failed' && !QUIET.has(kind)) toast.error(job.message ?? `${job.title} failed.`, { duration: 10_000 });
  if (state !== 'done' || kind !== 'render' || targetId === null) return;
  const { data } = await store.dispatch(api.endpoints.target.initiate(targetId, { subscribe: false }));
  toast.success(`${data ? `${data.name}: ` : ''}${job.title} exported.`, {
    action: { label: 'Show in Exports', onClick: () => go(`/targets/${targetId}/exports`) },
  });
}

/** A line to the server: jobs as they go on, lists anew when one ends. */
function listen(go: (path: string) => void): EventSource {
  const source = new EventSource('/api/events');
  const on = <E extends EventName>(name: E, take: (data: EventData<E>) => void): void =>
    source.addEventListener(name, ({ data }: MessageEvent<string>) => take(JSON.parse(data) as EventData<E>));
  on('hello', () => {
    if (!store.getState().live.online) store.dispatch(api.util.invalidateTags(['Target', 'Stack', 'Export']));
    store.dispatch(connectionChanged(true));
    void refresh();
  });
  source.addEventListener('error', () => store.dispatch(connectionChanged(false)));
  on('job', (job) => {
    store.dispatch(jobTold(job));
    refreshed(job);
    void announceEnd(job, go);
  });
  on('room', ({ free }) => store.dispatch(diskSpaceReported(free)));
  return source;
}

/**
 * Listens to the server while the page is seen. One that was left, though the browser may still hold it for the way back, and one that has
 * long been out of sight give their line up; what went on meanwhile is asked for when it is seen again.
 */
export function useServerEvents(): void {
  const navigate = useNavigate();
  const way = useRef(navigate);
  way.current = navigate;
  useEffect(() => {
    const go = (path: string): void => void way.current(path);
    let source: EventSource | undefined = listen(go);
    let timer: ReturnType<typeof setTimeout> | undefined;
    const open = (): void => {
      clearTimeout(timer);
      if (source) return;
      store.dispatch(api.util.invalidateTags(['Target', 'Stack', 'Export', 'Cover']));
      source = listen(go);
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
