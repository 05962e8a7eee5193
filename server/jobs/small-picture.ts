import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { UserError } from '../../core/errors';
import { levelCount } from '../../core/raster/levels';
import type { Raster } from '../../core/raster/raster';
import type { Rect } from '../../core/raster/rect';
import { toneOf } from '../../core/stats/tone';
import { brightStretch } from '../../core/tone/auto';
import { curveOf } from '../../core/tone/curves';
import { encodeJpeg } from '../io/jpeg';

/** Pixels across that a small picture has at least, where the stacks have as many. */
const ACROSS = 700;

/** What a small picture's file is called, by whose it is and by what it shows; names come from the page unchecked. */
export const PICTURE_NAME = /^[0-9a-f-]{36}\.[0-9a-f]{32}\.jpg$/;

/** The level of which a small picture of a part of the frame is made, so that it has so many pixels across at least. */
export const smallLevel = (frame: Rect, part: Rect, across = ACROSS): number =>
  Math.min(levelCount(frame.width, frame.height) - 1, Math.max(0, Math.floor(Math.log2(part.width / across))));

/** Brightens a linear picture for the eye, as the Loom does. */
function brightened({ planes, rect }: Raster): readonly Float32Array[] {
  const { black, strength } = brightStretch(planes.map((plane) => toneOf(plane, rect)));
  const curve = curveOf('asinh', strength);
  return planes.map((plane) => plane.map((v) => curve(Math.min(1, Math.max(0, (v - black) / (1 - black))))));
}

/** A raster as a JPEG; one that is still linear is brightened, since its sky is to be seen. */
export function smallPicture(raster: Raster, stretched: boolean): Promise<Buffer> {
  const { width, height } = raster.rect;
  const whole = { rect: { x: 0, y: 0, width, height }, planes: raster.planes };
  return encodeJpeg({ width, height, planes: stretched ? whole.planes : brightened(whole), stretched: true });
}

/** The bytes of a small picture of a folder. */
export const readPicture = (folder: string, name: string): Promise<Buffer> =>
  readFile(join(folder, name)).catch(() => {
    throw new UserError('no-pixels', 'This picture is not on this disk any more.');
  });
