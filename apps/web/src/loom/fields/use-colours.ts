import type { ColourHistogram } from '@owl-loom/algorithms/colour/colour-histogram';
import { rectAtFullSize } from '@owl-loom/image/pyramid/pyramid';
import { useReport, usePicture } from '../../session/session';
import { useLatestReply } from '../../session/use-latest-reply';

/**
 * Which colours an image has in the part of the frame that is in view: told anew once a picture is drawn for which the image, or what was
 * measured, is another.
 */
export function useColourHistogram(path: string): ColourHistogram | undefined {
  const { shown } = usePicture();
  const described = useReport();
  const rect = shown && rectAtFullSize(shown.reply.rect, shown.reply.level);
  return useLatestReply(rect && { type: 'colours', path, rect }, shown?.hashes[path], described);
}
