import type { Rect } from '../../../../core/raster/rect';
import { plainBytes, type Size } from './part';
import { FORMAT_NAMES, type Format, type Settings } from './settings';
import type { About } from './use-about';

/** What the server is asked for, one file. */
export interface FileRequest {
  readonly format: Format;
  readonly depth: number;
  readonly node?: string;
  readonly crop?: Rect;
  readonly width?: number;
  readonly profile?: Settings['profile'];
  readonly quality?: number;
  readonly title?: string;
  readonly credits?: string;
  readonly caption?: string;
  readonly called?: string;
}

/** What of a picture is told beside its pixels. */
export interface Said {
  readonly title: string;
  readonly caption: string;
}

export const depthIn = (format: Format, { depths }: Settings): number =>
  format === 'tif' || format === 'png' ? depths[format] : format === 'fits' ? 32 : 8;

/** Texts that say something; empty ones are left out. */
const spoken = (texts: Readonly<Record<string, string>>): Record<string, string> =>
  Object.fromEntries(Object.entries(texts).filter(([, text]) => text.trim() !== ''));

/**
 * The files that one press asks for: the picture in each of the forms, strands and masks beside it.
 * @param stretched whether the picture is; a linear one has no profile but the linear one
 */
export function filesOf(
  settings: Settings,
  { title, caption }: Said,
  { crop, asked, stretched }: { crop?: Rect; asked?: number; stretched: boolean },
  beside: readonly { readonly node: string; readonly linear: boolean }[],
): FileRequest[] {
  const { profile, quality, credits, called } = settings;
  const said = spoken({ title, credits, caption, called });
  // FITS hold numbers, and have no profile.
  const meant = (format: Format) =>
    format === 'fits' || profile === 'srgb' || (!stretched && profile !== 'linear') ? {} : { profile };
  const forms = FORMAT_NAMES.filter((format) => settings.formats.includes(format));
  return [
    ...forms.map((format) => ({
      format,
      depth: depthIn(format, settings),
      ...(crop && { crop }),
      ...(asked !== undefined && { width: asked }),
      ...((format === 'jpg' || format === 'html') && { quality }),
      ...meant(format),
      ...said,
    })),
    ...beside.map(({ node, linear }): FileRequest => {
      const format = linear ? 'fits' : 'tif';
      return { format, depth: depthIn(format, settings), node, ...spoken({ credits, called }) };
    }),
  ];
}

/** Bytes of a file of the picture; of compressed ones about. */
export function bytesOf(
  format: Format,
  settings: Settings,
  written: Size,
  planes: number,
  about: About | undefined,
): { readonly bytes: number; readonly about: boolean } | undefined {
  const plain = plainBytes(written, planes, depthIn(format, settings));
  if (format === 'fits' || format === 'tif') return { bytes: plain, about: false };
  if (!about) return undefined;
  if (format === 'jpg') return { bytes: about.jpg, about: true };
  // Bytes are written as text there, four letters for three of them.
  if (format === 'html') return { bytes: (4 / 3) * about.jpg, about: true };
  // The lower eight bits of sixteen are mostly noise, which does not pack.
  return { bytes: settings.depths.png === 8 ? about.png : about.png + plain / 2, about: true };
}
