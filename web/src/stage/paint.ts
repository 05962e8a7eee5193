import type { Rect } from '../../../core/raster/rect';
import type { Compare } from './compare';
import { matrix, type Viewport, type Window } from './viewport';

/** A picture as the worker gave it, and the one that it is compared with. */
export interface Sheet {
  readonly bitmap: ImageBitmap;
  readonly other: ImageBitmap | null;
  /** What both show, in the level's pixels. */
  readonly rect: Rect;
  readonly level: number;
}

/** How the stage is parted: `pane` is one picture's window, of which there are two side by side. */
export interface Parting {
  readonly pane: Window;
  readonly compare: Compare;
  /** Where a wipe's edge stands, 0 to 1. */
  readonly edge: number;
  /** Whether a blink shows the other picture just now. */
  readonly blinked: boolean;
}

/** Lays a sheet on the stage: one picture, two side by side, or one over the other up to an edge. */
export function paint(
  canvas: HTMLCanvasElement,
  size: { width: number; height: number },
  sheet: Sheet | undefined,
  viewport: Viewport | undefined,
  { pane, compare, edge, blinked }: Parting,
): void {
  const context = canvas.getContext('2d');
  if (!context || size.width === 0) return;
  const ratio = devicePixelRatio;
  if (canvas.width !== size.width * ratio || canvas.height !== size.height * ratio) {
    canvas.width = size.width * ratio;
    canvas.height = size.height * ratio;
  }
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.fillStyle = '#0c0c0c';
  context.fillRect(0, 0, canvas.width, canvas.height);
  if (!sheet || !viewport) return;
  const lay = (bitmap: ImageBitmap, left: number, from: number, to: number): void => {
    context.save();
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.beginPath();
    context.rect(from, 0, to - from, size.height);
    context.clip();
    context.translate(left, 0);
    const n = 2 ** sheet.level;
    context.transform(...matrix(viewport, pane));
    context.imageSmoothingEnabled = viewport.zoom * n < 2;
    context.imageSmoothingQuality = 'high';
    // The bitmap's first row is the top; this space runs upward, so it is laid in upside down.
    context.translate(sheet.rect.x * n - 0.5, (sheet.rect.y + sheet.rect.height) * n - 0.5);
    context.scale(n, -n);
    context.drawImage(bitmap, 0, 0);
    context.restore();
  };
  const { bitmap, other } = sheet;
  if (!other || compare === 'off') lay(bitmap, 0, 0, size.width);
  else if (compare === 'side') {
    lay(other, 0, 0, pane.width);
    lay(bitmap, size.width - pane.width, size.width - pane.width, size.width);
  } else if (compare === 'wipe') {
    lay(other, 0, 0, edge * size.width);
    lay(bitmap, 0, edge * size.width, size.width);
  } else if (compare === 'difference') {
    context.fillStyle = '#000';
    context.fillRect(0, 0, canvas.width, canvas.height);
    lay(bitmap, 0, 0, size.width);
    context.globalCompositeOperation = 'difference';
    lay(other, 0, 0, size.width);
    // What differs little would hardly be seen on black: it is laid onto itself until it is four times as bright.
    context.globalCompositeOperation = 'lighter';
    for (let times = 0; times < 2; times++) context.drawImage(canvas, 0, 0);
    context.globalCompositeOperation = 'source-over';
  } else lay(blinked ? other : bitmap, 0, 0, size.width);
}
