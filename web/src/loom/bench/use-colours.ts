import type { Colours } from '../../../../core/colour/colours';
import { usePicture } from '../session';
import { useLatest } from '../use-latest';

/** Which colours an image has in the part of the frame that is in view: told anew with every picture. */
export function useColours(path: string): Colours | undefined {
  const { shown } = usePicture();
  const n = 2 ** (shown?.reply.level ?? 0);
  const { x, y, width, height } = shown?.reply.rect ?? { x: 0, y: 0, width: 0, height: 0 };
  const rect = { x: n * x, y: n * y, width: n * width, height: n * height };
  return useLatest(shown && { type: 'colours', path, rect }, shown);
}
