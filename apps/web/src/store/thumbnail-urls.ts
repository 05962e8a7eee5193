import { useEffect, useMemo, useState } from 'react';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { ViewBitmaps } from '../image-view/paint';

/** Address of a picture of the contact sheet, and of a swatch. */
export const sheetPicture = (name: string | undefined): string | undefined => name && `/api/sheets/${name}`;
export const swatchPicture = (name: string | null | undefined): string | undefined =>
  name ? `/api/swatch-pictures/${name}` : undefined;

export const pastPicture = (name: string | null | undefined): string | undefined =>
  name ? `/api/past-pictures/${name}` : undefined;

async function bitmapOf(address: string, signal: AbortSignal, like?: ImageBitmap): Promise<ImageBitmap> {
  const response = await fetch(address, { signal });
  if (!response.ok) throw new Error(`the picture ${address} did not come: ${response.status}`);
  const size = like && { resizeWidth: like.width, resizeHeight: like.height };
  return createImageBitmap(await response.blob(), size);
}

/** A small picture on the stage, and others with it, brought to its size; the last ones stay until the next are there. */
export function useComparisonBitmaps(front: string | undefined, behind: readonly string[]): ViewBitmaps | undefined {
  const [sheet, setSheet] = useState<ViewBitmaps>();
  const names = behind.join(' ');
  useEffect(() => {
    if (!front) return undefined;
    const controller = new AbortController();
    const { signal } = controller;
    const go = async (): Promise<void> => {
      const bitmap = await bitmapOf(front, signal);
      const addresses = names.split(' ').filter(Boolean);
      const [other = null, ...more] = await Promise.all(addresses.map((one) => bitmapOf(one, signal, bitmap)));
      if (signal.aborted) return;
      setSheet({ bitmap, other, more, rect: { x: 0, y: 0, width: bitmap.width, height: bitmap.height }, level: 0 });
    };
    go().catch((error: unknown) => {
      // A picture may have been woven anew meanwhile; the list that names the new one is on its way.
      if (!signal.aborted) console.warn(error);
    });
    return () => controller.abort();
  }, [front, names]);
  return sheet;
}

/** The frame of what is on the stage; the same as long as its size is. */
export function useFrameOf(sheet: ViewBitmaps | undefined): Rect | undefined {
  const { width, height } = sheet?.bitmap ?? {};
  return useMemo(() => (width && height ? { x: 0, y: 0, width, height } : undefined), [width, height]);
}
