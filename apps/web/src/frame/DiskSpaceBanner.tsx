import { useAppSelector } from '../store/store';
import { bytes } from '../ui/numbers';

/** Bytes below which the disk is said to be nearly full. */
const LITTLE = 3 * 2 ** 30;

/** Says that the disk of the data is nearly full, before anything is refused for that. */
export function RoomLine() {
  const free = useAppSelector((state) => state.live.free);
  if (free === null || free >= LITTLE) return null;
  return (
    <p role="status" className="shrink-0 border-b border-edge bg-board px-4 py-1 text-[12.5px] text-ember">
      Only {bytes(free)} are free where Owl Loom keeps its data; free some space, or remove exports and stacks that are
      no longer needed.
    </p>
  );
}
