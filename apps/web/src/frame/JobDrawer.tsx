import { Check, ListChecks, TriangleAlert, X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { Link } from 'react-router';
import { useCancelJobMutation, useTargetsQuery } from '../store/api';
import type { JobRow } from '@owl-loom/api/jobs';
import { useAppSelector } from '../store/store';
import { Bar, IconButton } from '../ui/controls';
import { isActive } from '../store/active-jobs';

const VERBS: Readonly<Record<JobRow['kind'], string>> = {
  import: 'Importing',
  measure: 'Measuring',
  render: 'Exporting',
  proof: 'Making the full-resolution',
  cover: 'Weaving the',
  sheet: 'Weaving the',
  past: 'Weaving',
  swatch: 'Weaving the',
  mend: 'Rebuilding pixel data of',
  verify: 'Checking',
  archive: 'Archiving',
  restore: 'Opening',
  backup: 'Backing up',
};

/** Work for the screen: shown while it runs, and not after. */
const QUIET: ReadonlySet<JobRow['kind']> = new Set(['measure', 'proof', 'cover', 'sheet', 'swatch', 'past']);

/** Where what came of a job is to be seen. */
const PLACE: Partial<Record<JobRow['kind'], string>> = { render: 'exports', import: 'stacks' };

function Line({ job }: { job: JobRow }) {
  const [cancel] = useCancelJobMutation();
  const { data: targets = [] } = useTargetsQuery();
  const active = isActive(job);
  const target = targets.find(({ id }) => id === job.targetId);
  const place = PLACE[job.kind];
  return (
    <li className="border-b border-edge py-2 last:border-0">
      <div className="flex items-center gap-2">
        {job.state === 'failed' ? (
          <TriangleAlert size={14} className="shrink-0 text-ember" />
        ) : (
          !active && <Check size={14} className="shrink-0 text-hush" />
        )}
        <span className="truncate">
          {active ? `${VERBS[job.kind]} ` : ''}
          {job.title}
          {target && <span className="text-hush"> · {target.name}</span>}
        </span>
        <span className="ml-auto text-[12px] text-hush">
          {job.state === 'queued'
            ? 'waiting'
            : job.state === 'cancelled'
              ? 'stopped'
              : active
                ? `${Math.round(job.progress * 100)} %`
                : ''}
        </span>
        {job.state === 'done' && target && place && (
          <Link to={`/targets/${target.id}/${place}`} className="text-[12.5px] text-lamp hover:underline">
            show
          </Link>
        )}
        {job.kind === 'archive' && job.state === 'done' && (
          <a href={`/api/archives/${job.id}/file`} download className="text-[12.5px] text-lamp hover:underline">
            save
          </a>
        )}
        {active && (
          <IconButton label={`Stop ${job.title}`} onClick={() => void cancel(job.id)}>
            <X size={14} />
          </IconButton>
        )}
      </div>
      {active && <Bar label={job.title} share={job.progress} className="mt-1" />}
      {job.state === 'failed' && job.message && (
        <p className="mt-1 text-[12.5px] leading-snug text-ember">{job.message}</p>
      )}
    </li>
  );
}

/** What is under way and what ended lately; measurements being measured for the screen are shown only while they run. */
export function JobDrawer() {
  const jobs = useAppSelector((state) => state.live.jobs);
  const online = useAppSelector((state) => state.live.online);
  const list = Object.values(jobs)
    .filter(
      (job) => !QUIET.has(job.kind) || job.state === 'running' || (job.state === 'failed' && job.kind !== 'cover'),
    )
    .sort(
      (a, b) => Number(b.state === 'running') - Number(a.state === 'running') || b.createdAt.localeCompare(a.createdAt),
    )
    .slice(0, 30);
  const active = list.filter(isActive);
  const share = active.length ? active.reduce((sum, job) => sum + job.progress, 0) / active.length : 0;
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button
          type="button"
          aria-label={active.length ? `${active.length} jobs running` : 'Jobs'}
          title="Jobs"
          // As wide whether anything is under way or not: what stands beside it must not move under the hand.
          className="relative flex h-7 w-13 items-center gap-1.5 rounded-md px-2 text-soft hover:bg-shelf hover:text-text"
        >
          <ListChecks size={15} className={`shrink-0 ${online ? '' : 'text-ember'}`} />
          {active.length > 0 && <span className="figures">{active.length}</span>}
          {active.length > 0 && (
            <Bar label="Jobs" share={share} className="absolute inset-x-1.5 -bottom-0.5 h-[3px]!" />
          )}
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={8}
          className="z-40 max-h-[70vh] w-96 overflow-y-auto rounded-lg border border-rim bg-board px-4 py-2 shadow-2xl"
        >
          {!online && (
            <p role="alert" className="py-2 text-ember">
              Server not responding. Nothing is lost; work resumes when it is back.
            </p>
          )}
          {list.length === 0 ? (
            <p className="py-2 text-hush">No jobs running.</p>
          ) : (
            <ul>
              {list.map((job) => (
                <Line key={job.id} job={job} />
              ))}
            </ul>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
