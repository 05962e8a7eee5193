import type { Profile } from '@owl-loom/api/exports';

/** A finished picture in memory: one plane or three, rows from the foot up, NaN where there is nothing. */
export interface Picture {
  readonly width: number;
  readonly height: number;
  readonly planes: readonly Float32Array[];
  /** Stretched pictures carry an sRGB profile, linear ones none, where nothing else is said. */
  readonly stretched: boolean;
  /** The profile in whose numbers the samples are. */
  readonly profile?: Profile;
}

/** How many planes a picture has. */
export const channelsOf = ({ planes }: Pick<Picture, 'planes'>): 1 | 3 => (planes.length === 3 ? 3 : 1);

/** The profile that goes into a picture's file. */
export const profileOf = ({ stretched, profile }: Picture): Profile | undefined =>
  profile ?? (stretched ? 'srgb' : undefined);

/**
 * Integer samples, rows from the top down, planes interleaved: 0–1 to 0–`max`, rounded; what is outside is cut, no data is black.
 * @param out room for width · height · planes samples
 */
export function toSamples<T extends Uint8Array | Uint16Array>(picture: Picture, max: number, out: T): T {
  const { width, height, planes } = picture;
  const n = planes.length;
  planes.forEach((plane, p) => {
    for (let y = 0; y < height; y++) {
      let at = (height - 1 - y) * width * n + p;
      for (let i = y * width; i < (y + 1) * width; i++, at += n) {
        const v = plane[i];
        out[at] = v > 0 ? Math.round(Math.min(1, v) * max) : 0;
      }
    }
  });
  return out;
}
