import { useEffect, useState } from 'react';
import type { Sheet } from '../stage/paint';

async function bitmapOf(name: string, signal: AbortSignal, like?: ImageBitmap): Promise<ImageBitmap> {
  const response = await fetch(`/api/sheets/${name}`, { signal });
  if (!response.ok) throw new Error(`the picture ${name} did not come: ${response.status}`);
  const size = like && { resizeWidth: like.width, resizeHeight: like.height };
  return createImageBitmap(await response.blob(), size);
}

/** A picture of the contact sheet on the stage, and perhaps another behind it, brought to its size; the last one stays until the next is there. */
export function useSheet(front: string | undefined, behind: string | undefined): Sheet | undefined {
  const [sheet, setSheet] = useState<Sheet>();
  useEffect(() => {
    if (!front) return undefined;
    const controller = new AbortController();
    const { signal } = controller;
    const go = async (): Promise<void> => {
      const bitmap = await bitmapOf(front, signal);
      const other = behind ? await bitmapOf(behind, signal, bitmap) : null;
      if (signal.aborted) return;
      setSheet({ bitmap, other, rect: { x: 0, y: 0, width: bitmap.width, height: bitmap.height }, level: 0 });
    };
    go().catch((fault: unknown) => {
      // A picture may have been woven anew meanwhile; the list that names the new one is on its way.
      if (!signal.aborted) console.warn(fault);
    });
    return () => controller.abort();
  }, [front, behind]);
  return sheet;
}
