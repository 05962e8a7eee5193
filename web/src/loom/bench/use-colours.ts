import type { Colours } from '../../../../core/colour/colours';
import { fullRect } from '../../../../core/raster/levels';
import { useDescribed, usePicture } from '../session';
import { useLatest } from '../use-latest';

/**
 * Which colours an image has in the part of the frame that is in view: told anew once a picture is drawn for which the image, or what was
 * measured, is another.
 */
export function useColours(path: string): Colours | undefined {
  const { shown } = usePicture();
  const described = useDescribed();
  const rect = shown && fullRect(shown.reply.rect, shown.reply.level);
  return useLatest(rect && { type: 'colours', path, rect }, shown?.hashes[path], described);
}
