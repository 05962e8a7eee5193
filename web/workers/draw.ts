import type { HueRange } from '../../core/colour/hue-share';
import type { Domain } from '../../core/engine/kernel';
import type { FigureSpec } from '../../core/figures/index';
import { drifted, driftOf } from '../../core/colour/drift';
import { hueShares } from '../../core/mask/hue';
import { planned } from '../../core/engine/plan';
import { fullRect, levelRect } from '../../core/raster/levels';
import { newRaster, type Raster } from '../../core/raster/raster';
import { intersect, type Rect } from '../../core/raster/rect';
import { uprightWithin } from '../../core/raster/turned';
import { apartOf } from './apart';
import { driftRgba } from './drift';
import { type Brightness, bitmapOf, brightness, changeBrightness, PLAIN } from './paint';
import type { Change, Display, DrawReply, DriftLook } from './protocol';
import { cutTo, cutToTurned, takenOff } from './stand-ins';
import { aroundChange, touchedIn } from './touched';
import { laidOver } from './veil';
import type { Weaver } from './weaver';

/** A recipe's images, and the rectangle that it gives its cloth, if any. */
export interface Side {
  readonly weaver: Weaver;
  readonly extent?: Rect;
  /** Degrees by which the finished cloth is turned freely, as the frame's axes see it. */
  readonly turned?: number;
}

/** One image among those of a recipe. */
interface Shown extends Side {
  readonly path: string;
  readonly node: number;
}

/** A window of a level, and the keys of the figures that were only guessed on the way to it. */
interface Window {
  readonly rect: Rect;
  readonly level: number;
  readonly guessed: Set<string>;
}

const at = (side: Side | undefined, path: string | undefined): Shown | undefined => {
  const node = path === undefined ? undefined : side?.weaver.graph.byPath.get(path);
  return side && path !== undefined && node !== undefined ? { ...side, path, node } : undefined;
};

async function settled({ weaver }: Side, node: number, guessed: Set<string>): Promise<void> {
  for (const key of await weaver.settle(node)) guessed.add(key);
}

/** Pixels of an image; of the finished cloth, what it shows of the frame. */
async function pixelsOf(image: Shown, { rect, level, guessed }: Window, asProven: boolean): Promise<Raster> {
  if (!(asProven && image.weaver.isProven(image.node))) image.weaver.foresee(rect, level);
  await settled(image, image.node, guessed);
  const raster = await image.weaver.compute(image.node, rect, level, asProven);
  const extent = image.path === 'cloth' ? await extentOf(image, guessed) : undefined;
  if (!extent) return raster;
  const { turned = 0 } = image;
  return turned === 0 ? cutTo(raster, levelRect(extent, level)) : cutToTurned(raster, extent, turned, level);
}

/** The part of the frame that the finished cloth shows; undefined where that is all of it. */
async function extentOf(side: Side, guessed: Set<string>): Promise<Rect | undefined> {
  const { weaver, extent } = side;
  if (extent) return extent;
  const { common } = weaver.graph;
  if (!common) return undefined;
  for (const node of common.nodes) await settled(side, node, guessed);
  const figure = await weaver.figure(planned(weaver.graph, common), guessed);
  return figure.kind === 'common' ? uprightWithin(figure.rect, side.turned ?? 0) : undefined;
}

async function brightnessFor(image: Shown, display: Display, guessed: Set<string>): Promise<Brightness> {
  const { weaver, node } = image;
  const { graph } = weaver;
  if (display.mode === 'true' || graph.nodes[node].domain !== 'linear') return PLAIN;
  const anchor = (display.anchor !== undefined ? graph.byPath.get(display.anchor) : undefined) ?? node;
  await settled(image, anchor, guessed);
  const spec: FigureSpec = { kind: 'tone', nodes: [anchor] };
  const figure = await weaver.figure(planned(graph, spec), guessed);
  return figure.kind === 'tone' ? brightness(figure.planes) : PLAIN;
}

/** Where a layer or step changes a window of the picture; nothing where that cannot be told. */
export async function touchedOn(side: Side, change: Change, window: Window): Promise<Float32Array | undefined> {
  const around = aroundChange(side.weaver.graph, change);
  if (!around) return undefined;
  const of = async (node: number) => {
    await settled(side, node, window.guessed);
    return side.weaver.compute(node, window.rect, window.level);
  };
  const before = around.before === undefined ? undefined : await of(around.before);
  return touchedIn(before, await of(around.after));
}

/** How much each pixel of a colour image belongs to a family of hues. */
function familyIn(image: Raster, domain: Domain, family: HueRange): Raster {
  const out = newRaster(image.rect, 1);
  if (image.planes.length === 3) hueShares(image.planes, family, domain === 'stretched', out.planes[0]);
  return out;
}

/** What shows a mask over the image, or what a layer changes; nothing where none is to be seen, or it cannot be made. */
async function veilOver(
  side: Side,
  { veil, touched }: Display,
  window: Window,
): Promise<((rgba: Uint8ClampedArray) => void) | undefined> {
  const { rect, level, guessed } = window;
  const plane = touched === undefined ? undefined : await touchedOn(side, touched, window);
  if (plane) return (rgba) => laidOver(rgba, { rect, planes: [plane] }, 'veil');
  const image = at(side, veil?.path);
  if (!veil || !image) return undefined;
  await settled(side, image.node, guessed);
  const pixels = await side.weaver.compute(image.node, rect, level);
  const mask = veil.family ? familyIn(pixels, side.weaver.graph.nodes[image.node].domain, veil.family) : pixels;
  return (rgba) => laidOver(rgba, mask, veil.as);
}

/** The map of how far colours have moved from the other image to this one. */
async function driftReply(
  open: Side,
  image: Shown,
  other: Shown,
  raster: Raster,
  window: Window,
  display: Display,
  { kind, ...left }: DriftLook,
  reply: (bitmap: ImageBitmap, more: Partial<DrawReply>) => DrawReply,
): Promise<DrawReply> {
  const { rect, level } = window;
  const domainOf = ({ weaver, node }: Shown): Domain => weaver.graph.nodes[node].domain;
  const drift = driftOf(await pixelsOf(other, window, true), raster, [domainOf(other), domainOf(image)]);
  const counts = await countedIn(open, left, window);
  const { most, ...shares } = drifted(drift, rect, kind, counts);
  const rgba = driftRgba(raster, await brightnessFor(image, display, window.guessed), drift[kind], kind, counts);
  const bitmap = await createImageBitmap(new ImageData(rgba, rect.width, rect.height));
  return reply(bitmap, { drift: { ...shares, most: most && fullRect(most, level) } });
}

/** How much each pixel of a window counts, where a mask or a rectangle is left out; undefined where all do. */
async function countedIn(
  side: Side,
  { mask, within }: Omit<DriftLook, 'kind'>,
  { rect, level, guessed }: Window,
): Promise<Float32Array | undefined> {
  const image = at(side, mask);
  if (!image && !within) return undefined;
  const counts = new Float32Array(rect.width * rect.height).fill(1);
  if (image) {
    await settled(side, image.node, guessed);
    const { planes } = await side.weaver.compute(image.node, rect, level);
    // No data in a mask counts as 0.
    planes[0].forEach((v, i) => {
      counts[i] = v > 0 ? Math.max(0, 1 - v) : 1;
    });
  }
  const inside = within && intersect(levelRect(within, level), rect);
  for (let y = 0; inside && y < inside.height; y++) {
    const row = (inside.y - rect.y + y) * rect.width + inside.x - rect.x;
    counts.fill(0, row, row + inside.width);
  }
  return counts;
}

/**
 * Draws a window of an image of the open recipe.
 * @param beside another recipe, among whose images the other picture may be
 */
export async function drawn(
  open: Side,
  beside: Side | undefined,
  node: number,
  path: string,
  rect: Rect,
  level: number,
  display: Display,
): Promise<DrawReply> {
  const start = performance.now();
  const image: Shown = { ...open, path, node };
  const window: Window = { rect, level, guessed: new Set() };
  const less = at(open, display.less);
  const other = at(display.otherIsBeside ? beside : open, display.other);
  const own = await pixelsOf(image, window, less === undefined);
  const proof = less === undefined && open.weaver.isProven(node);
  const raster = less ? takenOff(own, await pixelsOf(less, window, false)) : own;
  const reply = (bitmap: ImageBitmap, more: Partial<DrawReply> = {}): DrawReply => ({
    bitmap,
    other: null,
    apart: null,
    drift: null,
    rect,
    level,
    guessed: [...window.guessed],
    proof,
    milliseconds: performance.now() - start,
    ...more,
  });
  if (other && display.apart) {
    const against = await pixelsOf(other, window, true);
    const apart = apartOf(raster, against);
    const between = takenOff(against, raster);
    return reply(await bitmapOf(between, changeBrightness(between), false), { apart });
  }
  if (other && display.drift) return driftReply(open, image, other, raster, window, display, display.drift, reply);
  const how = less ? changeBrightness(raster) : await brightnessFor(image, display, window.guessed);
  const clipping = display.clipping === true;
  const bitmap = await bitmapOf(raster, how, clipping, await veilOver(open, display, window));
  if (!other) return reply(bitmap);
  // Under the same brightness, where both are linear or neither is.
  const alike = other.weaver.graph.nodes[other.node].domain === open.weaver.graph.nodes[node].domain;
  const pixels = await pixelsOf(other, window, true);
  const its = alike && !less ? how : await brightnessFor(other, display, window.guessed);
  return reply(bitmap, { other: await bitmapOf(pixels, its, clipping) });
}
