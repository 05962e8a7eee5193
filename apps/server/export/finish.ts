import type { Finish } from '@owl-loom/api/exports';
import { toDisplayP3 } from '@owl-loom/algorithms/colour/p3';
import { srgbToLinear } from '@owl-loom/algorithms/colour/srgb';
import { UserError } from '@owl-loom/base/errors';
import { resize } from '@owl-loom/image/kernels/resize';
import { downsample2x, levelSize } from '@owl-loom/image/pyramid/pyramid';
import { copyPlane } from '@owl-loom/image/raster/raster';
import type { Picture } from '../codecs/picture';

/** The most pixels that are written: what TIFF, a file of four gigabytes, holds in 16 bits a colour. */
const MOST = 600e6;

/** A part of a picture. */
function cropped(picture: Picture, { x, y, width, height }: NonNullable<Finish['crop']>): Picture {
  if (x + width > picture.width || y + height > picture.height)
    throw new UserError(
      'bad-crop',
      `The export area is outside the picture (${picture.width} × ${picture.height} px). Set it again.`,
    );
  const whole = { x: 0, y: 0, width: picture.width, height: picture.height };
  const planes = picture.planes.map((plane) => {
    const out = new Float32Array(width * height);
    copyPlane(plane, whole, out, { x, y, width, height });
    return out;
  });
  return { ...picture, width, height, planes };
}

/**
 * The height that belongs to another width.
 * @throws UserError where no file can hold so many pixels
 */
export function heightFor(picture: { readonly width: number; readonly height: number }, width: number): number {
  const height = Math.max(1, Math.round((picture.height * width) / picture.width));
  if (width * height > MOST)
    throw new UserError(
      'too-large',
      `A picture of ${width} × ${height} px is larger than a file can hold. Choose a smaller width.`,
    );
  return height;
}

/** A picture of another width. */
function resized(picture: Picture, width: number): Picture {
  if (width === picture.width) return picture;
  const height = heightFor(picture, width);
  const planes = picture.planes.map((plane) => {
    const out = new Float32Array(width * height);
    resize(plane, [picture.width, picture.height], [width, height], out);
    return out;
  });
  return { ...picture, width, height, planes };
}

/** Planes that may be changed: those of a picture that was cut or resized are its own, others may be kept for what comes next. */
const own = (planes: readonly Float32Array[], before: readonly Float32Array[]): Float32Array[] =>
  planes.map((plane, p) => (plane === before[p] ? Float32Array.from(plane) : plane));

/** A picture cut and brought to its size. */
export function cropAndResize(picture: Picture, { crop, width }: Pick<Finish, 'crop' | 'width'>): Picture {
  const part = crop ? cropped(picture, crop) : picture;
  return width === undefined ? part : resized(part, width);
}

/** A picture for a list, so many pixels across at most: halved as long as that leaves enough, then resized. */
export function previewOf(picture: Picture, across: number): Picture {
  let { width, height, planes } = picture;
  while (width >= 2 * across && height > 1) {
    planes = planes.map((plane) => downsample2x(plane, width, height));
    [width, height] = [levelSize(width, 1), levelSize(height, 1)];
  }
  return resized({ ...picture, width, height, planes }, Math.min(width, across));
}

/**
 * Says what the numbers of a picture that has its size mean.
 * @param before the picture that it was made of: its planes may be kept for what comes next, and are not changed
 * @returns the picture, and what should be known of it
 */
export function finish(
  sized: Picture,
  before: Picture,
  { profile, crop, width }: Finish,
): { picture: Picture; warnings: string[] } {
  const warnings =
    width !== undefined && width !== (crop ?? before).width && before.stretched
      ? [
          'It was resized as it is, stretched: small stars lose some of their light. Resize while it is linear where that counts.',
        ]
      : [];
  if (profile === undefined || (profile === 'srgb' && before.stretched)) return { picture: sized, warnings };
  if (!before.stretched) {
    if (profile !== 'linear')
      throw new UserError('bad-profile', 'Linear data cannot use this profile. Choose “linear”, or stretch first.');
    return { picture: { ...sized, profile }, warnings };
  }
  const planes = own(sized.planes, before.planes);
  if (profile === 'p3' && planes.length === 3) toDisplayP3(planes);
  if (profile === 'linear')
    for (const plane of planes)
      plane.forEach((v, i) => {
        plane[i] = srgbToLinear(v);
      });
  return { picture: { ...sized, planes, profile }, warnings };
}
