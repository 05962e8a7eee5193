import { formatDistanceToNow } from 'date-fns';
import { useEndOthersMutation, useLockMutation, useSessionsQuery } from '../store/maintenance-api';
import type { SessionRow } from '@owl-loom/api/maintenance';
import { showError } from '../store/show-error';
import { Button } from '../ui/controls';
import { browserName } from './browser-name';
import { Part } from './Part';

const ago = (time: number): string => formatDistanceToNow(new Date(time), { addSuffix: true });

function Row({ session: { agent, from, begun, used, own } }: { session: SessionRow }) {
  return (
    <li className="py-1" title={agent}>
      {browserName(agent)} at {from || 'an unknown address'}
      {own && <span className="text-lamp"> · this one</span>}
      <span className="block text-hush">
        let in {ago(begun)}, used {ago(used)}
      </span>
    </li>
  );
}

/** Which browsers are let in by the password, and the presses that end that; without a password, what that means. */
export function LetIn({ guarded }: { guarded: boolean }) {
  const { data: sessions = [] } = useSessionsQuery(undefined, { skip: !guarded, refetchOnMountOrArgChange: true });
  const [lock] = useLockMutation();
  const [endOthers, { isLoading: ending }] = useEndOthersMutation();
  const leave = async (): Promise<void> => {
    showError(await lock());
    location.assign('/');
  };
  if (!guarded)
    return (
      <Part title="Access">
        <p className="text-[12.5px] text-soft">
          Everyone who can log in on this machine, and every program on it. Where that is not you alone, set a password:{' '}
          <code>./loom password</code>, then start again.
        </p>
      </Part>
    );
  return (
    <Part
      title="Access"
      more={
        <>
          <Button
            small
            disabled={ending || sessions.every(({ own }) => own)}
            onClick={() => void endOthers().then(showError)}
          >
            End all others
          </Button>
          <Button small onClick={() => void leave()}>
            Lock this browser
          </Button>
        </>
      }
    >
      <ul tabIndex={0} className="max-h-52 overflow-y-auto text-[12.5px]">
        {sessions.map((session) => (
          <Row key={session.id} session={session} />
        ))}
      </ul>
    </Part>
  );
}
