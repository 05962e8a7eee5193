import {
  type HTMLAttributes,
  type PointerEvent,
  type ReactNode,
  type RefObject,
  useCallback,
  useEffect,
  useImperativeHandle,
  useMemo,
  useRef,
  useState,
} from 'react';
import type { Rect } from '@owl-loom/image/geometry/rect';
import { cellsOf, type Layout, withinCell } from './cells';
import { GridNames, PairNames } from './Names';
import { drawBitmaps, type ViewBitmaps } from './paint';
import { type Finger, pinched } from './pinch';
import { fitViewport, toPixel, type Viewport, visibleRect, type ViewSize, zoomedAt } from './viewport';

/** Milliseconds that each picture stands in a blink. */
const BLINK = 650;

/** A place on the stage: the full-size pixel there, and screen pixels from the pane's own corner. */
export interface Spot {
  readonly x: number;
  readonly y: number;
  readonly sx: number;
  readonly sy: number;
}

/** What keys do to the stage. */
export interface StageActions {
  showAll(): void;
  /** One pixel on one pixel, about the pointer. */
  full(): void;
  zoomBy(factor: number): void;
}

/** What lies over the picture, laid out from the pane's own corner. */
export type Overlay = (place: {
  viewport: Viewport;
  pane: ViewSize;
  size: { width: number; height: number };
  spot: Spot | undefined;
}) => ReactNode;

interface StageProps {
  readonly frame: Rect | undefined;
  readonly sheet: ViewBitmaps | undefined;
  readonly turn?: ViewSize['turn'];
  readonly flip?: ViewSize['flip'];
  readonly degrees?: number;
  readonly compare?: Layout;
  /** Names of the pictures under comparison: the other one, then the picture; in a grid the picture, then the others. */
  readonly names?: readonly string[];
  readonly actions?: RefObject<StageActions | null>;
  /** Told whenever another part of the picture lies in the window. */
  readonly onLook: (rect: Rect, zoom: number) => void;
  /** Takes a drag in place of panning, where it gives true. */
  readonly onDrag?: (event: PointerEvent, at: Spot, phase: 'down' | 'move' | 'up') => boolean;
  /** Takes a turn of the wheel in place of zooming, where it gives true. */
  readonly onWheel?: (event: WheelEvent) => boolean;
  readonly overlay?: Overlay;
  /** What stands over the stage whether there is a picture or not. */
  readonly children?: ReactNode;
  readonly marks?: HTMLAttributes<HTMLDivElement> & Record<`data-${string}`, string | number | undefined>;
}

/** A picture that can be panned and zoomed: drawn from the last bitmap at once, then from the pixels that come. */
export function ImageView({
  frame,
  sheet,
  turn = 0,
  flip = 'none',
  degrees = 0,
  compare = 'off',
  names,
  actions,
  onLook,
  onDrag,
  onWheel: takesWheel,
  overlay,
  children,
  marks,
}: StageProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [viewport, setViewport] = useState<Viewport>();
  const [spot, setSpot] = useState<Spot>();
  const [edge, setEdge] = useState(0.5);
  const [blinked, setBlinked] = useState(false);
  const drag = useRef<{ x: number; y: number } | 'taken'>(undefined);
  const following = useRef(true);
  const paired = compare !== 'off' && sheet?.other !== null && sheet?.other !== undefined;
  const layout = paired ? compare : 'off';
  const { cells, own } = useMemo(() => cellsOf(size, layout), [size, layout]);
  const { width, height } = cells[own];
  const pane: ViewSize = useMemo(() => ({ width, height, turn, flip, degrees }), [width, height, turn, flip, degrees]);

  useEffect(() => {
    const element = box.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(([entry]) =>
      setSize({ width: Math.round(entry.contentRect.width), height: Math.round(entry.contentRect.height) }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  const showAll = useCallback(() => {
    if (!frame || pane.width === 0) return;
    following.current = true;
    setViewport(fitViewport(frame, pane));
  }, [frame, pane]);

  // Until someone pans or zooms, the whole frame stays in sight, whatever the window does.
  useEffect(() => {
    if (following.current) showAll();
  }, [showAll]);

  useEffect(() => {
    if (viewport && size.width > 0) onLook(visibleRect(viewport, pane), viewport.zoom * devicePixelRatio);
  }, [onLook, viewport, pane, size]);

  useEffect(() => {
    if (!paired || compare !== 'blink') return undefined;
    const timer = setInterval(() => setBlinked((before) => !before), BLINK);
    return () => clearInterval(timer);
  }, [paired, compare]);

  useEffect(() => {
    if (canvas.current) drawBitmaps(canvas.current, size, sheet, viewport, { pane, cells, compare, edge, blinked });
  }, [sheet, viewport, pane, cells, size, compare, edge, blinked]);

  const zoomBy = useCallback(
    (factor: number, x = pane.width / 2, y = pane.height / 2) => {
      following.current = false;
      setViewport((before) => before && zoomedAt(before, pane, x, y, factor));
    },
    [pane],
  );

  const full = useCallback(() => {
    following.current = false;
    setViewport(
      (before) =>
        before && zoomedAt(before, pane, spot?.sx ?? pane.width / 2, spot?.sy ?? pane.height / 2, 1 / before.zoom),
    );
  }, [pane, spot]);

  useImperativeHandle(actions, () => ({ showAll, full, zoomBy }), [showAll, full, zoomBy]);

  const screenOf = useCallback(
    (event: { clientX: number; clientY: number }): [number, number] => {
      const bounds = box.current?.getBoundingClientRect();
      return withinCell(cells, event.clientX - (bounds?.left ?? 0), event.clientY - (bounds?.top ?? 0));
    },
    [cells],
  );

  // React listens to wheels passively, and a passive listener cannot keep the page from zooming.
  useEffect(() => {
    const element = box.current;
    if (!element) return undefined;
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      if (takesWheel?.(event)) return;
      zoomBy(Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0016)), ...screenOf(event));
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [zoomBy, screenOf, takesWheel]);

  const spotAt = (event: { clientX: number; clientY: number }): Spot | undefined => {
    if (!viewport) return undefined;
    const [sx, sy] = screenOf(event);
    const { x, y } = toPixel(viewport, pane, sx, sy);
    return { x, y, sx, sy };
  };

  const fingers = useRef(new Map<number, Finger>());
  /** Moves the picture with two fingers; false where there are not two. */
  const pinch = (event: PointerEvent): boolean => {
    const before = [...fingers.current.values()];
    if (!fingers.current.has(event.pointerId)) return false;
    const [x, y] = screenOf(event);
    fingers.current.set(event.pointerId, { x, y });
    const [a, b] = fingers.current.values();
    if (!a || !b || !viewport || drag.current === 'taken') return false;
    following.current = false;
    // Two moves may come before the first is drawn: each goes on from the other.
    setViewport((now) => now && pinched(now, pane, [before[0], before[1]], [a, b]));
    return true;
  };

  const release = (event: PointerEvent): void => {
    fingers.current.delete(event.pointerId);
    const at = spotAt(event);
    if (drag.current === 'taken' && at) onDrag?.(event, at, 'up');
    drag.current = undefined;
  };

  return (
    <div
      ref={box}
      {...marks}
      data-compare={paired ? compare : undefined}
      className="relative size-full cursor-crosshair touch-none overflow-hidden bg-pit"
      onPointerDown={(event) => {
        const at = spotAt(event);
        // What lies over the picture and takes the pointer has its own use for it; captured here, a press would never become its click.
        if (event.button > 1 || !at || event.target !== canvas.current) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        fingers.current.set(event.pointerId, { x: at.sx, y: at.sy });
        // A second finger pulls the picture together with the first, and is no stroke of its own.
        if (fingers.current.size > 1) return;
        drag.current = onDrag?.(event, at, 'down') ? 'taken' : { x: event.clientX, y: event.clientY };
      }}
      onPointerMove={(event) => {
        const at = spotAt(event);
        if (!viewport || !at || pinch(event)) return;
        if (drag.current === 'taken') onDrag?.(event, at, 'move');
        else if (drag.current) {
          const from = toPixel(viewport, pane, drag.current.x, drag.current.y);
          const to = toPixel(viewport, pane, event.clientX, event.clientY);
          following.current = false;
          drag.current = { x: event.clientX, y: event.clientY };
          setViewport({ ...viewport, cx: viewport.cx + from.x - to.x, cy: viewport.cy + from.y - to.y });
        }
        setSpot(at);
      }}
      onPointerUp={release}
      onPointerCancel={release}
      onPointerLeave={() => setSpot(undefined)}
    >
      <canvas ref={canvas} className="absolute inset-0 size-full" aria-label="The picture" />
      {paired && compare === 'wipe' && <Edge at={edge} onMove={setEdge} width={size.width} />}
      {viewport && overlay && (
        <div className="pointer-events-none absolute overflow-hidden" style={{ ...cells[own] }}>
          {overlay({ viewport, pane, size: { width: pane.width, height: pane.height }, spot })}
        </div>
      )}
      {children}
      {paired &&
        names &&
        (compare === 'grid' ? (
          <GridNames names={names} cells={cells} />
        ) : (
          <PairNames
            names={names}
            blinks={compare === 'blink'}
            blinked={blinked}
            left={compare === 'side' ? cells[own].left : edge * size.width}
          />
        ))}
    </div>
  );
}

/** The edge of a wipe, dragged or moved by arrow keys. */
function Edge({ at, onMove, width }: { at: number; onMove: (at: number) => void; width: number }) {
  const held = (value: number): number => Math.min(0.98, Math.max(0.02, value));
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Divider between the two pictures"
      aria-valuenow={Math.round(100 * at)}
      className="absolute inset-y-0 w-4 -translate-x-1/2 cursor-ew-resize touch-none after:absolute after:inset-y-0 after:left-1/2 after:w-px after:bg-lamp"
      style={{ left: at * width }}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        event.stopPropagation();
        const bounds = event.currentTarget.parentElement?.getBoundingClientRect();
        if (bounds) onMove(held((event.clientX - bounds.left) / bounds.width));
      }}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -0.02, ArrowRight: 0.02 }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        onMove(held(at + by));
      }}
    />
  );
}
