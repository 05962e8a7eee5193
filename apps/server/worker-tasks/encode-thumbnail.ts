import { levelCount } from '@owl-loom/image/pyramid/pyramid';
import type { Raster } from '@owl-loom/image/raster/raster';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { measureBackground } from '@owl-loom/image/stats/background';
import { previewStretch } from '@owl-loom/algorithms/tone/auto';
import { curveOf } from '@owl-loom/algorithms/tone/curves';
import { encodeJpeg } from '../codecs/jpeg';
import { type Orientation, orient } from './orient';
import type { SharedRaster } from '../pixels/shared-raster';

/** Pixels across that a small picture has at least, where the stacks have as many. */
const ACROSS = 700;

/** The level of which a small picture of a part of the frame is made, so that it has so many pixels across at least. */
export const thumbnailLevel = (frame: Rect, part: Rect, across = ACROSS): number =>
  Math.min(levelCount(frame.width, frame.height) - 1, Math.max(0, Math.floor(Math.log2(part.width / across))));

/** Brightens a linear picture for the eye, as the Loom does. */
function brightened({ planes, rect }: Raster): readonly Float32Array[] {
  const { black, strength } = previewStretch(planes.map((plane) => measureBackground(plane, rect)));
  const curve = curveOf('asinh', strength);
  return planes.map((plane) => plane.map((v) => curve(Math.min(1, Math.max(0, (v - black) / (1 - black))))));
}

/** A raster as a JPEG; one that is still linear is brightened, since its sky is to be seen. */
export function encodeThumbnail(raster: Raster, stretched: boolean): Promise<Buffer> {
  const { width, height } = raster.rect;
  const whole = { rect: { x: 0, y: 0, width, height }, planes: raster.planes };
  return encodeJpeg({ width, height, planes: stretched ? whole.planes : brightened(whole), stretched: true });
}

/** A picture to be made small, as a worker is asked for it. */
export interface SmallTask {
  readonly raster: SharedRaster;
  readonly orientation?: Orientation;
  /** What is shown of it once it is turned; all of it where that is left out. */
  readonly cut?: Rect;
  readonly stretched: boolean;
}

/** Turns a picture as it is to be seen, and gives it as a JPEG. */
export const thumbnailOf = ({ raster, orientation, cut, stretched }: SmallTask): Promise<Uint8Array> =>
  encodeThumbnail(orient(raster, orientation, cut), stretched);
