import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Cell, Layout } from './cells';
import { matrix, type Viewport, type ViewSize } from './viewport';

/** A picture as the worker gave it, and the one that it is compared with. */
export interface ViewBitmaps {
  readonly bitmap: ImageBitmap;
  readonly other: ImageBitmap | null;
  /** Further ones, for a grid. */
  readonly more?: readonly ImageBitmap[];
  /** What all show, in the level's pixels. */
  readonly rect: Rect;
  readonly level: number;
}

/** How the stage is parted: `pane` is the size of one picture's window, `cells` are where such windows lie. */
export interface ViewLayout {
  readonly pane: ViewSize;
  readonly cells: readonly Cell[];
  readonly compare: Layout;
  /** Where a wipe's edge stands, 0 to 1. */
  readonly edge: number;
  /** Whether a blink shows the other picture just now. */
  readonly blinked: boolean;
}

/** Lays a sheet on the stage: one picture, two side by side, or one over the other up to an edge. */
export function drawBitmaps(
  canvas: HTMLCanvasElement,
  size: { width: number; height: number },
  sheet: ViewBitmaps | undefined,
  viewport: Viewport | undefined,
  { pane, cells, compare, edge, blinked }: ViewLayout,
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
  const lay = (bitmap: ImageBitmap, { left, top }: Pick<Cell, 'left' | 'top'>, clip: Cell): void => {
    context.save();
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.beginPath();
    context.rect(clip.left, clip.top, clip.width, clip.height);
    context.clip();
    context.translate(left, top);
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
  const { bitmap, other, more = [] } = sheet;
  const whole: Cell = { left: 0, top: 0, ...size };
  const alone = (one: ImageBitmap): void => lay(one, whole, whole);
  const pictures = compare === 'side' ? [other, bitmap] : [bitmap, other, ...more];
  if (!other || compare === 'off') alone(bitmap);
  else if (compare === 'side' || compare === 'grid')
    cells.forEach((cell, i) => {
      const picture = pictures[i];
      if (picture) lay(picture, cell, cell);
    });
  else if (compare === 'wipe') {
    const at = edge * size.width;
    lay(other, whole, { ...whole, width: at });
    lay(bitmap, whole, { ...whole, left: at, width: size.width - at });
  } else if (compare === 'difference') {
    context.fillStyle = '#000';
    context.fillRect(0, 0, canvas.width, canvas.height);
    alone(bitmap);
    context.globalCompositeOperation = 'difference';
    alone(other);
    // What differs little would hardly be seen on black: it is laid onto itself until it is four times as bright.
    context.globalCompositeOperation = 'lighter';
    for (let times = 0; times < 2; times++) context.drawImage(canvas, 0, 0);
    context.globalCompositeOperation = 'source-over';
  } else alone(blinked ? other : bitmap);
}
