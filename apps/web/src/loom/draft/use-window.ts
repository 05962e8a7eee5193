import { type RefObject, useEffect, useState } from 'react';
import type { DraftViewport } from './layout';

/**
 * The window in which an element that scrolls shows its inside.
 * @param there whether the element is in the page
 */
export function useScrollViewport(box: RefObject<HTMLElement | null>, there: boolean): DraftViewport {
  const [room, setRoom] = useState<DraftViewport>({ width: 1280, height: 200 });
  useEffect(() => {
    const element = box.current;
    if (!element || !there) return undefined;
    const observer = new ResizeObserver(([{ contentRect }]) =>
      setRoom((before) => ({ ...before, width: contentRect.width, height: contentRect.height })),
    );
    const scrolled = () => setRoom((before) => ({ ...before, scrolled: element.scrollTop }));
    observer.observe(element);
    element.addEventListener('scroll', scrolled, { passive: true });
    return () => {
      observer.disconnect();
      element.removeEventListener('scroll', scrolled);
    };
  }, [box, there]);
  return room;
}

/** Keeps what is chosen in sight, whichever way it was chosen. */
export function useScrollIntoView(box: RefObject<HTMLElement | null>, chosen: string): void {
  useEffect(() => {
    box.current
      ?.querySelector(`[data-path="${CSS.escape(chosen)}"]`)
      ?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [box, chosen]);
}
