import type { HueRange } from '@owl-loom/algorithms/colour/hue-membership';
import type { Domain } from '@owl-loom/image/pixel-function';
import type { MeasurementSpec } from '@owl-loom/engine/measurements/index';
import { summariseDrift, colourDrift } from '@owl-loom/algorithms/colour/drift';
import { hueMembershipPlane } from '@owl-loom/algorithms/mask/hue';
import { withKey } from '@owl-loom/engine/measurement-plan';
import { rectAtFullSize, rectAtLevel } from '@owl-loom/image/pyramid/pyramid';
import { newRaster, type Raster } from '@owl-loom/image/raster/raster';
import { intersect, type Rect } from '@owl-loom/image/geometry/rect';
import { uprightWithin } from '@owl-loom/image/geometry/turned';
import { imageDifference } from './image-difference';
import { driftRgba } from './drift';
import { type Brightness, bitmapOf, brightness, differenceBrightness, PLAIN } from './paint';
import type { ChangeRef, DisplayOptions, DrawReply, DriftView } from './protocol';
import { cropTo, cutToTurned, differenceOf } from './image-arithmetic';
import { changeEndpoints, changedPixels } from './changed-pixels';
import { drawMaskOverlay } from './mask-overlay';
import type { RecipeEvaluator } from './recipe-evaluator';

/** A recipe's images, and the rectangle that it gives its cloth, if any. */
export interface RecipeSide {
  readonly evaluator: RecipeEvaluator;
  readonly extent?: Rect;
  /** Degrees by which the finished cloth is turned freely, as the frame's axes see it. */
  readonly turned?: number;
}

/** One image among those of a recipe. */
interface Shown extends RecipeSide {
  readonly path: string;
  readonly node: number;
}

/** A window of a level, and the keys of the measurements that were only estimated on the way to it. */
interface Window {
  readonly rect: Rect;
  readonly level: number;
  readonly guessed: Set<string>;
}

const at = (side: RecipeSide | undefined, path: string | undefined): Shown | undefined => {
  const node = path === undefined ? undefined : side?.evaluator.graph.byPath.get(path);
  return side && path !== undefined && node !== undefined ? { ...side, path, node } : undefined;
};

async function settled({ evaluator: weaver }: RecipeSide, node: number, guessed: Set<string>): Promise<void> {
  for (const key of await weaver.settle(node)) guessed.add(key);
}

/** Pixels of an image; of the finished cloth, what it shows of the frame. */
async function pixelsOf(image: Shown, { rect, level, guessed }: Window, asProven: boolean): Promise<Raster> {
  if (!(asProven && image.evaluator.isProven(image.node))) image.evaluator.prefetchTiles(rect, level);
  await settled(image, image.node, guessed);
  const raster = await image.evaluator.compute(image.node, rect, level, asProven);
  const extent = image.path === 'cloth' ? await extentOf(image, guessed) : undefined;
  if (!extent) return raster;
  const { turned = 0 } = image;
  return turned === 0 ? cropTo(raster, rectAtLevel(extent, level)) : cutToTurned(raster, extent, turned, level);
}

/** The part of the frame that the finished cloth shows; undefined where that is all of it. */
async function extentOf(side: RecipeSide, guessed: Set<string>): Promise<Rect | undefined> {
  const { evaluator: weaver, extent } = side;
  if (extent) return extent;
  const { commonAreaSpec: common } = weaver.graph;
  if (!common) return undefined;
  for (const node of common.nodes) await settled(side, node, guessed);
  const figure = await weaver.figure(withKey(weaver.graph, common), guessed);
  return figure.kind === 'common' ? uprightWithin(figure.rect, side.turned ?? 0) : undefined;
}

async function brightnessFor(image: Shown, display: DisplayOptions, guessed: Set<string>): Promise<Brightness> {
  const { evaluator: weaver, node } = image;
  const { graph } = weaver;
  if (display.mode === 'true' || graph.nodes[node].domain !== 'linear') return PLAIN;
  const anchor = (display.anchor !== undefined ? graph.byPath.get(display.anchor) : undefined) ?? node;
  await settled(image, anchor, guessed);
  const spec: MeasurementSpec = { kind: 'tone', nodes: [anchor] };
  const figure = await weaver.figure(withKey(graph, spec), guessed);
  return figure.kind === 'tone' ? brightness(figure.planes) : PLAIN;
}

/** Where a layer or step changes a window of the picture; nothing where that cannot be told. */
export async function touchedOn(
  side: RecipeSide,
  change: ChangeRef,
  window: Window,
): Promise<Float32Array | undefined> {
  const around = changeEndpoints(side.evaluator.graph, change);
  if (!around) return undefined;
  const of = async (node: number) => {
    await settled(side, node, window.guessed);
    return side.evaluator.compute(node, window.rect, window.level);
  };
  const before = around.before === undefined ? undefined : await of(around.before);
  return changedPixels(before, await of(around.after));
}

/** How much each pixel of a colour image belongs to a family of hues. */
function familyIn(image: Raster, domain: Domain, family: HueRange): Raster {
  const out = newRaster(image.rect, 1);
  if (image.planes.length === 3) hueMembershipPlane(image.planes, family, domain === 'stretched', out.planes[0]);
  return out;
}

/** What shows a mask over the image, or what a layer changes; nothing where none is to be seen, or it cannot be made. */
async function veilOver(
  side: RecipeSide,
  { veil, touched }: DisplayOptions,
  window: Window,
): Promise<((rgba: Uint8ClampedArray) => void) | undefined> {
  const { rect, level, guessed } = window;
  const plane = touched === undefined ? undefined : await touchedOn(side, touched, window);
  if (plane) return (rgba) => drawMaskOverlay(rgba, { rect, planes: [plane] }, 'veil');
  const image = at(side, veil?.path);
  if (!veil || !image) return undefined;
  await settled(side, image.node, guessed);
  const pixels = await side.evaluator.compute(image.node, rect, level);
  const mask = veil.family ? familyIn(pixels, side.evaluator.graph.nodes[image.node].domain, veil.family) : pixels;
  return (rgba) => drawMaskOverlay(rgba, mask, veil.as);
}

/** The map of how far colours have moved from the other image to this one. */
async function driftReply(
  open: RecipeSide,
  image: Shown,
  other: Shown,
  raster: Raster,
  window: Window,
  display: DisplayOptions,
  { kind, ...left }: DriftView,
  reply: (bitmap: ImageBitmap, more: Partial<DrawReply>) => DrawReply,
): Promise<DrawReply> {
  const { rect, level } = window;
  const domainOf = ({ evaluator: weaver, node }: Shown): Domain => weaver.graph.nodes[node].domain;
  const drift = colourDrift(await pixelsOf(other, window, true), raster, [domainOf(other), domainOf(image)]);
  const counts = await countedIn(open, left, window);
  const { most, ...shares } = summariseDrift(drift, rect, kind, counts);
  const rgba = driftRgba(raster, await brightnessFor(image, display, window.guessed), drift[kind], kind, counts);
  const bitmap = await createImageBitmap(new ImageData(rgba, rect.width, rect.height));
  return reply(bitmap, { drift: { ...shares, most: most && rectAtFullSize(most, level) } });
}

/** How much each pixel of a window counts, where a mask or a rectangle is left out; undefined where all do. */
async function countedIn(
  side: RecipeSide,
  { mask, within }: Omit<DriftView, 'kind'>,
  { rect, level, guessed }: Window,
): Promise<Float32Array | undefined> {
  const image = at(side, mask);
  if (!image && !within) return undefined;
  const counts = new Float32Array(rect.width * rect.height).fill(1);
  if (image) {
    await settled(side, image.node, guessed);
    const { planes } = await side.evaluator.compute(image.node, rect, level);
    // No data in a mask counts as 0.
    planes[0].forEach((v, i) => {
      counts[i] = v > 0 ? Math.max(0, 1 - v) : 1;
    });
  }
  const inside = within && intersect(rectAtLevel(within, level), rect);
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
export async function drawView(
  open: RecipeSide,
  beside: RecipeSide | undefined,
  node: number,
  path: string,
  rect: Rect,
  level: number,
  display: DisplayOptions,
): Promise<DrawReply> {
  const start = performance.now();
  const image: Shown = { ...open, path, node };
  const window: Window = { rect, level, guessed: new Set() };
  const less = at(open, display.less);
  const other = at(display.otherIsBeside ? beside : open, display.other);
  const own = await pixelsOf(image, window, less === undefined);
  const proof = less === undefined && open.evaluator.isProven(node);
  const raster = less ? differenceOf(own, await pixelsOf(less, window, false)) : own;
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
    const apart = imageDifference(raster, against);
    const between = differenceOf(against, raster);
    return reply(await bitmapOf(between, differenceBrightness(between), false), { apart });
  }
  if (other && display.drift) return driftReply(open, image, other, raster, window, display, display.drift, reply);
  const how = less ? differenceBrightness(raster) : await brightnessFor(image, display, window.guessed);
  const clipping = display.clipping === true;
  const bitmap = await bitmapOf(raster, how, clipping, await veilOver(open, display, window));
  if (!other) return reply(bitmap);
  // Under the same brightness, where both are linear or neither is.
  const alike = other.evaluator.graph.nodes[other.node].domain === open.evaluator.graph.nodes[node].domain;
  const pixels = await pixelsOf(other, window, true);
  const its = alike && !less ? how : await brightnessFor(other, display, window.guessed);
  return reply(bitmap, { other: await bitmapOf(pixels, its, clipping) });
}
