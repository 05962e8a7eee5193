import { TriangleAlert } from 'lucide-react';
import { useIdleQuery } from './use-told';

/** What can be told from black, or from white, in a picture of 8 bits. */
const HAIR = 1 / 255;

/** Why a mask has no use, from the values between which it lies; undefined where it has one. */
export function uselessMask([least, most]: readonly [number, number]): string | undefined {
  if (most < HAIR)
    return 'It hides everything: nothing is seen through it. Brighten it by a stretch or levels, or let it show the rest.';
  if (least > 1 - HAIR)
    return 'It hides nothing: all is seen through it, as if it were not there. Darken it by levels, or paint on it.';
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
