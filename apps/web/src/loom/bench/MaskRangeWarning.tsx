import { TriangleAlert } from 'lucide-react';
import { useIdleQuery } from './use-told';

/** What can be told from black, or from white, in a picture of 8 bits. */
const HAIR = 1 / 255;

/** Why a mask has no use, from the values between which it lies; undefined where it has one. */
export function uselessMask([min, max]: readonly [number, number]): string | undefined {
  if (max < HAIR) return 'The mask is black everywhere: nothing is affected. Brighten or invert it.';
  if (min > 1 - HAIR) return 'The mask is white everywhere: it limits nothing. Darken it or paint on it.';
  return undefined;
}

/** Says of a mask that hides everything, or nothing, that it does. */
export function MaskReach({ path }: { path: string }) {
  const reach = useIdleQuery({ type: 'reach', path }, path);
  const why = reach ? uselessMask(reach) : undefined;
  return why ? (
    <p role="status" className="flex items-start gap-2 text-[12.5px] text-ember">
      <TriangleAlert size={14} className="mt-0.5 shrink-0" /> {why}
    </p>
  ) : null;
}
