import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { stepPlace, valueAt } from '../../store/paths';
import { useApp } from '../../store/store';
import { inputPath } from '../bench/inputs';
import { useSession } from '../session';
import { Boxes } from './Boxes';
import { useViewerKeys } from './keys';
import { Loupe } from './Loupe';
import { Readout } from './Readout';
import { StateLine } from './StateLine';
import { type Viewport, type Window, fitted, matrix, toPixel, visible, zoomedAt } from './viewport';

/** The path that the picture shows: the chosen bead, or for a layer the cloth up to it. */
function shownPath(chosen: string, alone: boolean, paths: Readonly<Record<string, unknown>> | undefined): string {
  if (/^cloth\.layers\[\d+\]$/.test(chosen) && !alone && paths?.[`${chosen}@cloth`]) return `${chosen}@cloth`;
  return chosen;
}

/** The picture: drawn from the last bitmap at once while panning and zooming, then from the pixels that the worker sends. */
export function Viewer() {
  const { scene, shown, fault, settling, look } = useSession();
  const canvas = useRef<HTMLCanvasElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const view = useApp((state) => state.view);
  const chosen = useApp((state) => state.draft.chosen);
  const recipe = useApp((state) => state.draft.recipe);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [viewport, setViewport] = useState<Viewport>();
  const [pointer, setPointer] = useState<{ x: number; y: number; sx: number; sy: number }>();
  const drag = useRef<{ x: number; y: number }>(undefined);
  const following = useRef(true);

  const onCloth = chosen === 'cloth';
  const orient = recipe?.cloth?.orient;
  const window_: Window = useMemo(() => ({ ...size, turn: (onCloth && orient?.turn) || 0, flip: (onCloth && orient?.flip) || 'none' }), [size, onCloth, orient]);
  const path = shownPath(chosen, view.layerAlone, scene?.paths);
  const frame = scene?.frame;
  const stepInput = recipe && stepPlace(chosen) ? inputPath(recipe, chosen) : undefined;

  useEffect(() => {
    const element = box.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(([entry]) => setSize({ width: Math.round(entry.contentRect.width), height: Math.round(entry.contentRect.height) }));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  const showAll = useCallback(() => {
    if (!frame || size.width === 0) return;
    following.current = true;
    setViewport(fitted(frame, window_));
  }, [frame, size, window_]);

  // Until someone pans or zooms, the whole frame stays in sight, whatever the window does.
  useEffect(() => {
    if (following.current) showAll();
  }, [showAll]);

  const drawable = scene?.paths[path] !== undefined;
  useEffect(() => {
    if (!viewport || !drawable || size.width === 0) return;
    const anchor = view.anchor && scene?.paths[view.anchor] && path.startsWith('strands') ? view.anchor : undefined;
    look({ path, rect: visible(viewport, window_), zoom: viewport.zoom * devicePixelRatio, display: { mode: view.mode, anchor, clipping: view.clipping, ...(view.taken && stepInput && { less: stepInput }) } });
  }, [look, viewport, window_, path, drawable, size, view.mode, view.anchor, view.clipping, view.taken, stepInput, scene]);

  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context || size.width === 0) return;
    const ratio = devicePixelRatio;
    if (element.width !== size.width * ratio || element.height !== size.height * ratio) {
      element.width = size.width * ratio;
      element.height = size.height * ratio;
    }
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.fillStyle = '#0c0c0c';
    context.fillRect(0, 0, element.width, element.height);
    if (!shown || !viewport) return;
    const { bitmap, rect, level } = shown.reply;
    const n = 2 ** level;
    const [a, b, c, d, e, f] = matrix(viewport, window_);
    context.scale(ratio, ratio);
    context.transform(a, b, c, d, e, f);
    context.imageSmoothingEnabled = viewport.zoom * n < 2;
    context.imageSmoothingQuality = 'high';
    // The bitmap's first row is the top; this space runs upward, so it is laid in upside down.
    context.translate(rect.x * n - 0.5, (rect.y + rect.height) * n - 0.5);
    context.scale(n, -n);
    context.drawImage(bitmap, 0, 0);
  }, [shown, viewport, window_, size]);

  const zoomBy = useCallback((factor: number, x = size.width / 2, y = size.height / 2) => {
    following.current = false;
    setViewport((before) => before && zoomedAt(before, window_, x, y, factor));
  }, [size, window_]);

  const full = useCallback(() => {
    following.current = false;
    setViewport((before) => before && zoomedAt(before, window_, pointer?.sx ?? size.width / 2, pointer?.sy ?? size.height / 2, 1 / before.zoom));
  }, [window_, size, pointer]);

  useViewerKeys({ showAll, full, zoomBy });

  // React listens to wheels passively, and a passive listener cannot keep the page from zooming.
  useEffect(() => {
    const element = box.current;
    if (!element) return undefined;
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      const bounds = element.getBoundingClientRect();
      zoomBy(Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0016)), event.clientX - bounds.left, event.clientY - bounds.top);
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [zoomBy]);

  const inside = pointer && frame && pointer.x >= 0 && pointer.y >= 0 && pointer.x < frame.width && pointer.y < frame.height ? pointer : undefined;
  const zoomText = viewport ? `${Math.round(viewport.zoom * devicePixelRatio * 100)} %` : '';

  return (
    <div
      ref={box}
      data-testid="picture"
      data-shown={shown?.path}
      data-level={shown?.reply.level}
      data-ms={shown ? Math.round(shown.reply.milliseconds) : undefined}
      className="relative size-full cursor-crosshair overflow-hidden bg-pit"
      onPointerDown={(event) => {
        if (event.button > 1) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { x: event.clientX, y: event.clientY };
      }}
      onPointerMove={(event) => {
        const bounds = event.currentTarget.getBoundingClientRect();
        const [sx, sy] = [event.clientX - bounds.left, event.clientY - bounds.top];
        if (!viewport) return;
        const at = drag.current;
        if (at) {
          const from = toPixel(viewport, window_, at.x, at.y);
          const to = toPixel(viewport, window_, event.clientX, event.clientY);
          following.current = false;
          drag.current = { x: event.clientX, y: event.clientY };
          setViewport({ ...viewport, cx: viewport.cx + from.x - to.x, cy: viewport.cy + from.y - to.y });
        }
        const { x, y } = toPixel(viewport, window_, sx, sy);
        setPointer({ x: Math.round(x), y: Math.round(y), sx, sy });
      }}
      onPointerUp={() => { drag.current = undefined; }}
      onPointerCancel={() => { drag.current = undefined; }}
      onPointerLeave={() => setPointer(undefined)}
    >
      <canvas ref={canvas} className="absolute inset-0 size-full" aria-label="The picture" />
      {viewport && <Boxes path={chosen} viewport={viewport} turned={window_} />}
      <StateLine path={path} fault={fault} settling={settling} named={recipe ? valueAt(recipe, chosen) : undefined} />
      <Readout pointer={inside} zoom={zoomText} />
      {view.loupe && inside && viewport && <Loupe pointer={inside} path={path} size={size} turned={window_} />}
    </div>
  );
}
