import { many } from '@owl-loom/base/join-words';
import { formatDistanceToNow } from 'date-fns';
import { Check, TriangleAlert } from 'lucide-react';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { isActive } from '../store/active-jobs';
import { faultText } from '../store/api';
import { useServerStatusQuery, useVerifyMutation } from '../store/maintenance-api';
import type { VerifyReport } from '@owl-loom/api/jobs';
import type { ServerStatus } from '@owl-loom/api/maintenance';
import { useAppSelector } from '../store/store';
import { showError } from '../store/show-error';
import { Bar, Button } from '../ui/controls';
import { Frame } from '../frame/AppFrame';
import { bytes, count } from '../ui/numbers';
import { Trouble } from '../ui/ErrorText';
import { Backup } from './Backup';
import { DiskBar } from './DiskBar';
import { LetIn } from './Sessions';
import { Part } from './Part';
import { useNewest } from './use-job';

function Fact({ word, children }: { word: string; children: ReactNode }) {
  return (
    <div className="flex items-baseline gap-3 py-1">
      <dt className="grow text-soft">{word}</dt>
      <dd className="text-right">{children}</dd>
    </div>
  );
}

/** What is to be done, if anything is. */
function Verdict({ house }: { house: ServerStatus }) {
  const online = useAppSelector((state) => state.live.online);
  const says = [
    ...(online ? [] : ['Connection lost; reconnecting …']),
    ...(house.disk.free < 3 * 2 ** 30 ? [`Only ${bytes(house.disk.free)} are free; make room on this disk.`] : []),
  ];
  const well = says.length === 0 && house.lacking.length === 0;
  return (
    <div className={`mb-5 flex items-start gap-2.5 text-[15px] ${well ? '' : 'text-ember'}`} role="status">
      {well ? (
        <Check size={18} className="mt-0.5 text-lamp" aria-hidden />
      ) : (
        <TriangleAlert size={18} className="mt-0.5" aria-hidden />
      )}
      <div>
        {well && 'All is well.'}
        {says.map((one) => (
          <p key={one}>{one}</p>
        ))}
        {house.lacking.map(({ target, targetId, name }) => (
          <p key={`${targetId} ${name}`}>
            Missing or damaged original of {name}: import it again in{' '}
            <Link className="underline" to={`/targets/${targetId}/stacks`}>
              Stacks of {target}
            </Link>
          </p>
        ))}
      </div>
    </div>
  );
}

function Looked({ report }: { report: VerifyReport }) {
  const total = Object.values(report.looked).reduce((sum, one) => sum + one, 0);
  return (
    <div className="text-[12.5px] text-soft">
      <p>
        {count(total)} items checked,{' '}
        {report.faults.length === 0 ? 'no problems found.' : `${many(report.faults.length, 'problem')}:`}
      </p>
      <ul tabIndex={0} className="mt-1.5 max-h-40 space-y-1 overflow-y-auto">
        {report.faults.map(({ says, mended }) => (
          <li key={says} className={mended ? 'text-hush' : 'text-ember'}>
            {says}
            {mended && ' Repaired.'}
          </li>
        ))}
      </ul>
    </div>
  );
}

function Verify() {
  const [verify] = useVerifyMutation();
  const job = useNewest('verify');
  const active = isActive(job);
  const report = job?.kind === 'verify' && job.state === 'done' ? job.result : undefined;
  const begin = (repair: boolean) => void verify(repair).then(showError);
  return (
    <Part
      title="Check all data"
      more={
        <>
          {active && job && <Bar label="Checking" share={job.progress} className="w-28" />}
          <Button small disabled={active} onClick={() => begin(false)}>
            Check
          </Button>
          <Button small disabled={active} onClick={() => begin(true)}>
            Check and repair
          </Button>
        </>
      }
    >
      {report ? (
        <Looked report={report} />
      ) : (
        <p className="text-[12.5px] text-hush">
          Verifies all file checksums, recipes and tables; about 1 s per GB. You can keep working.
        </p>
      )}
    </Part>
  );
}

/** How the server is: disk, memory, queue, what was mended, backups. */
export function Health() {
  const { data: house, error } = useServerStatusQuery(undefined, {
    refetchOnMountOrArgChange: true,
    pollingInterval: 10_000,
  });
  if (!house) return error ? <Trouble message={faultText(error)} /> : <div className="h-full bg-pit" />;
  return (
    <div className="flex h-full flex-col">
      <Frame />
      <main className="grow overflow-y-auto p-7">
        <div className="mx-auto max-w-6xl">
          <Verdict house={house} />
          <div className="grid grid-cols-2 gap-5">
            <Part title="Disk usage">
              <DiskBar disk={house.disk} />
            </Part>
            <Part title="Per target">
              {house.targets.length === 0 && <p className="text-hush">No targets yet.</p>}
              <dl tabIndex={0} className="max-h-52 overflow-y-auto">
                {house.targets.map(({ id, name, trashed, stacks, bytes: size }) => (
                  <Fact
                    key={id}
                    word={`${name}${trashed ? ' (in the trash)' : ''} · ${stacks} ${stacks === 1 ? 'stack' : 'stacks'}`}
                  >
                    {bytes(size)}
                  </Fact>
                ))}
              </dl>
            </Part>
            <Part title="Backup">
              <Backup />
            </Part>
            <Part title="System">
              <dl>
                <Fact word="Memory of Owl Loom">
                  {bytes(house.memory.own)}, {bytes(house.memory.kept)} of which image cache
                </Fact>
                <Fact word="Memory of this machine">
                  {bytes(house.memory.free)} free of {bytes(house.memory.total)}
                </Fact>
                <Fact word="Jobs">
                  {house.queue.running} running, {house.queue.waiting} waiting, {house.queue.failedToday} failed today
                </Fact>
                <Fact word="Database">answers in {house.database.milliseconds.toFixed(1)} ms</Fact>
                <Fact word="Owl Loom">
                  {house.version}, {house.cores} cores, up {formatDistanceToNow(new Date(house.since))}
                </Fact>
              </dl>
              <p className="mt-2 truncate text-[12.5px] text-hush" title={house.root}>
                Data: {house.root}
              </p>
            </Part>
            <Verify />
            <LetIn guarded={house.guarded} />
            <Part title="Automatic maintenance">
              {house.notes.length === 0 ? (
                <p className="text-[12.5px] text-hush">Nothing repaired or cleaned up yet.</p>
              ) : (
                <ul tabIndex={0} className="max-h-52 space-y-2 overflow-y-auto text-[12.5px]">
                  {house.notes.map(({ id, kind, says, createdAt }) => (
                    <li key={id} className={kind === 'damaged' ? 'text-ember' : 'text-soft'}>
                      {says}
                      <span className="block text-hush">
                        {formatDistanceToNow(new Date(createdAt), { addSuffix: true })}
                      </span>
                    </li>
                  ))}
                </ul>
              )}
            </Part>
          </div>
        </div>
      </main>
    </div>
  );
}
