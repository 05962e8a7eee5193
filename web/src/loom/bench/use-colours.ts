import type { Colours } from '../../../../core/colour/colours';
import { fullRect } from '../../../../core/raster/levels';
import { usePicture } from '../session';
import { useLatest } from '../use-latest';

/** Which colours an image has in the part of the frame that is in view: told anew with every picture. */
export function useColours(path: string): Colours | undefined {
  const { shown } = usePicture();
  const rect = shown && fullRect(shown.reply.rect, shown.reply.level);
  return useLatest(rect && { type: 'colours', path, rect }, shown);
}
