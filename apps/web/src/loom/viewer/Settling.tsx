import { useAppSelector } from '../../store/store';
import { usePicture } from '../../session/session';

/** How far the server is with what the picture waits for, in words; undefined where it is not at it. */
export function useWork(): string | undefined {
  const { measuring } = usePicture();
  const job = useAppSelector((state) => (measuring === undefined ? undefined : state.live.jobs[measuring]));
  if (!job) return undefined;
  return `measuring ${job.doing ?? `${Math.round(100 * job.progress)} %`}`;
}

/** That measurements on the screen are provisional, and what is being measured. */
export function Settling() {
  const work = useWork();
  return <span className="text-lamp"> · Refining …{work === undefined ? '' : `, ${work}`}</span>;
}
