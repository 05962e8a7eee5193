import { type FileRequest as NewFile, FILE_FORMATS, type FileFormat } from '@owl-loom/api/exports';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { USUAL_NAME } from '@owl-loom/recipe/file-name';
import { plainBytes, type Size } from './part';
import type { Settings } from './settings';
import type { About } from './use-about';

/** What the server is asked for, one file. */
export type FileRequest = NewFile & { readonly depth: number };

/** What of a picture is told beside its pixels. */
export interface Said {
  readonly title: string;
  readonly caption: string;
}

export const depthIn = (format: FileFormat, { depths }: Settings): number =>
  format === 'tif' || format === 'png' ? depths[format] : format === 'fits' ? 32 : 8;

/** Texts that say something; empty ones are left out. */
const withText = (texts: Readonly<Record<string, string>>): Record<string, string> =>
  Object.fromEntries(Object.entries(texts).filter(([, text]) => text.trim() !== ''));

/** A pattern for the name of a file in a further size, which says it. */
const withWidth = (called: string): string =>
  called.includes('{width}') ? called : `${called.trim() === '' ? USUAL_NAME : called} {width}`;

/**
 * The files that one press asks for: the picture in each of the forms and sizes, strands and masks beside it.
 * @param widths that are asked for, nothing for the size as it is; by the first, files are called as was said
 * @param stretched whether the picture is; a linear one has no profile but the linear one
 */
export function filesOf(
  settings: Settings,
  { title, caption }: Said,
  { crop, widths, stretched }: { crop?: Rect; widths: readonly (number | undefined)[]; stretched: boolean },
  beside: readonly { readonly node: string; readonly linear: boolean }[],
): FileRequest[] {
  const { profile, quality, impersonal, credits, called } = settings;
  const header = (format: FileFormat) => (format === 'fits' && impersonal ? { impersonal } : {});
  const texts = withText({ title, credits, caption, called });
  // FITS hold numbers, and have no profile.
  const meant = (format: FileFormat) =>
    format === 'fits' || profile === 'srgb' || (!stretched && profile !== 'linear') ? {} : { profile };
  const forms = FILE_FORMATS.filter((format) => settings.formats.includes(format));
  return [
    ...forms.flatMap((format) =>
      widths.map((width, i) => ({
        format,
        depth: depthIn(format, settings),
        ...(crop && { crop }),
        ...(width !== undefined && { width }),
        ...((format === 'jpg' || format === 'html') && { quality }),
        ...meant(format),
        ...header(format),
        ...texts,
        ...(i > 0 && { called: withWidth(called) }),
      })),
    ),
    ...beside.map(({ node, linear }): FileRequest => {
      const format = linear ? 'fits' : 'tif';
      return { format, depth: depthIn(format, settings), node, ...header(format), ...withText({ credits, called }) };
    }),
  ];
}

/** Files of one form that differ in size alone, together. */
export function byForm(files: readonly FileRequest[]): FileRequest[][] {
  const forms = new Map<string, FileRequest[]>();
  for (const file of files) {
    const form = `${file.format} ${file.node ?? ''}`;
    forms.set(form, [...(forms.get(form) ?? []), file]);
  }
  return [...forms.values()];
}

/** What is known about one size, told of another by its pixels. */
export function scaled(about: About | undefined, size: Size, known: Size): About | undefined {
  const by = (size.width * size.height) / (known.width * known.height);
  return about && { jpg: about.jpg * by, png: about.png * by };
}

/** Bytes of a file of the picture; of compressed ones about. */
export function bytesOf(
  format: FileFormat,
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
