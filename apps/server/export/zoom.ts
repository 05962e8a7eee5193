/**
 * Makes the picture of a page one that is zoomed by the wheel, two fingers, a double press or keys, and moved by a drag. It is written into the
 * page as it stands here, so it may use nothing from outside of itself.
 */
export function enableZoom(): void {
  const view = document.getElementById('view');
  const picture = document.getElementById('picture');
  if (!(view instanceof HTMLElement) || !(picture instanceof HTMLImageElement)) return;
  let [zoom, left, top] = [1, 0, 0];
  const fingers = new Map<number, { x: number; y: number }>();

  const min = (): number =>
    Math.min(1, view.clientWidth / picture.naturalWidth, view.clientHeight / picture.naturalHeight);
  const show = (): void => {
    const [width, height] = [picture.naturalWidth * zoom, picture.naturalHeight * zoom];
    const held = (v: number, room: number, size: number): number =>
      size <= room ? (room - size) / 2 : Math.min(0, Math.max(room - size, v));
    left = held(left, view.clientWidth, width);
    top = held(top, view.clientHeight, height);
    picture.style.transform = `translate(${left}px, ${top}px) scale(${zoom})`;
    picture.style.imageRendering = zoom >= 3 ? 'pixelated' : 'auto';
  };
  const zoomTo = (to: number, x: number, y: number): void => {
    const next = Math.min(16, Math.max(min(), to));
    left = x - ((x - left) * next) / zoom;
    top = y - ((y - top) * next) / zoom;
    zoom = next;
    show();
  };
  const whole = (): void => zoomTo(min(), 0, 0);
  const middle = (): { x: number; y: number } => ({ x: view.clientWidth / 2, y: view.clientHeight / 2 });
  const at = (event: MouseEvent): { x: number; y: number } => {
    const box = view.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const spread = (): number => {
    const [a, b] = [...fingers.values()];
    return Math.hypot(a.x - b.x, a.y - b.y);
  };

  view.addEventListener(
    'wheel',
    (event) => {
      event.preventDefault();
      const { x, y } = at(event);
      zoomTo(zoom * 1.0015 ** -event.deltaY, x, y);
    },
    { passive: false },
  );
  view.addEventListener('pointerdown', (event) => {
    view.setPointerCapture(event.pointerId);
    fingers.set(event.pointerId, at(event));
  });
  view.addEventListener('pointermove', (event) => {
    const before = fingers.get(event.pointerId);
    if (!before) return;
    const now = at(event);
    if (fingers.size === 2) {
      const apart = spread();
      fingers.set(event.pointerId, now);
      zoomTo((zoom * spread()) / Math.max(1, apart), now.x, now.y);
      return;
    }
    fingers.set(event.pointerId, now);
    left += now.x - before.x;
    top += now.y - before.y;
    show();
  });
  for (const over of ['pointerup', 'pointercancel'] as const)
    view.addEventListener(over, (event) => void fingers.delete(event.pointerId));
  view.addEventListener('dblclick', (event) => {
    const { x, y } = at(event);
    if (zoom < 0.999) zoomTo(1, x, y);
    else whole();
  });
  view.addEventListener('keydown', (event) => {
    const { x, y } = middle();
    const by = 80;
    const deeds: Record<string, () => void> = {
      '+': () => zoomTo(zoom * 1.5, x, y),
      '-': () => zoomTo(zoom / 1.5, x, y),
      '0': whole,
      '1': () => zoomTo(1, x, y),
      ArrowLeft: () => {
        left += by;
      },
      ArrowRight: () => {
        left -= by;
      },
      ArrowUp: () => {
        top += by;
      },
      ArrowDown: () => {
        top -= by;
      },
    };
    const deed = deeds[event.key];
    if (!deed) return;
    event.preventDefault();
    deed();
    show();
  });
  addEventListener('resize', () => zoomTo(zoom, 0, 0));
  if (picture.complete) whole();
  else picture.addEventListener('load', whole);
}
