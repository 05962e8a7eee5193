import { useEffect, useRef, useSyncExternalStore } from 'react';

/** A pixel of the frame at full size. */
export interface Pixel {
  readonly x: number;
  readonly y: number;
}

// It moves with every move of the mouse: whoever asks for it is drawn anew, and nobody else.
let pixel: Pixel | undefined;
const listeners = new Set<() => void>();

/** Tells which pixel the pointer is at; nothing where it is beside the picture. */
export function setPointerPixel(next: Pixel | undefined): void {
  if (pixel?.x === next?.x && pixel?.y === next?.y) return;
  pixel = next;
  for (const listener of listeners) listener();
}

const listen = (listener: () => void): (() => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** The pixel of the picture that the pointer is at. */
export const usePointer = (): Pixel | undefined => useSyncExternalStore(listen, () => pixel);

const touched = new Set<(at: Pixel) => void>();

/** Tells whoever waits for it which pixel has been touched. */
export function notifyTouch(at: Pixel): void {
  for (const listener of touched) listener(at);
}

/** Hears of the pixels that are touched with a tool that only tells a place. */
export function useTouch(deed: (at: Pixel) => void): void {
  const now = useRef(deed);
  now.current = deed;
  useEffect(() => {
    const listener = (at: Pixel): void => now.current(at);
    touched.add(listener);
    return () => void touched.delete(listener);
  }, []);
}
