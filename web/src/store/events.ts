import { useEffect } from 'react';
import { toast } from 'sonner';
import { api, type JobRow } from './api';
import { jobTold, jobsListed, lineChanged, store } from './store';

/** Listens to the server while the page is open: jobs as they go on, lists anew when one ends. */
export function useServerEvents(): void {
  useEffect(() => {
    const source = new EventSource('/api/events');
    const refresh = async (): Promise<void> => {
      const { data } = await store.dispatch(
        api.endpoints.jobs.initiate(undefined, { forceRefetch: true, subscribe: false }),
      );
      if (data) store.dispatch(jobsListed(data));
    };
    source.addEventListener('hello', () => {
      if (!store.getState().live.online) store.dispatch(api.util.invalidateTags(['Target', 'Stack', 'Export']));
      store.dispatch(lineChanged(true));
      void refresh();
    });
    source.addEventListener('error', () => store.dispatch(lineChanged(false)));
    source.addEventListener('job', ({ data }) => {
      const job = JSON.parse(data as string) as JobRow;
      store.dispatch(jobTold(job));
      if (job.state === 'done' && job.kind === 'import') store.dispatch(api.util.invalidateTags(['Stack', 'Target']));
      if (job.state === 'done' && job.kind === 'cover') store.dispatch(api.util.invalidateTags(['Cover']));
      if (job.state === 'done' && job.kind === 'render') {
        store.dispatch(api.util.invalidateTags(['Export']));
        toast.success(`${job.title} is written; it lies in Exports.`);
      }
      // What was to be measured for the screen is told where it was asked for, and the Loom tells why a recipe has no cover.
      if (job.state === 'failed' && job.kind !== 'measure' && job.kind !== 'cover')
        toast.error(job.message ?? `${job.title} failed.`, { duration: 10_000 });
    });
    return () => source.close();
  }, []);
}
