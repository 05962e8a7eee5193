import type { BuildContext } from './context';
import type { GraphNode } from '../graph';
import type { ImageInfo } from '../node-kernel';

/** Kind of the nodes that move pixels. They look around each pixel, and are repeated all the same: they change where stars lie. */
const MOVES = 'move';

/** Whether a node does to an image with stars what it does to one without: it moves pixels, or works on each pixel by itself. */
const canRepeat = ({ kind, kernel }: GraphNode): boolean =>
  kind === MOVES || (kernel !== undefined && (!kernel.inputRoi || kernel.starSources !== undefined));

/**
 * The node on which the stars of a node's image are measured: the last state before a step removed the stars, brought to the same pixels and
 * to the same scale by the moves and pointwise steps that follow that step. Filters and stretches after it are left out, since they have no
 * part in where stars lie and how they compare. The node itself, where no step removed stars.
 */
export function nodeWithStars(ctx: BuildContext, index: number): number {
  const known = ctx.withStars.get(index);
  if (known !== undefined) return known;
  const found = find(ctx, ctx.nodes[index]);
  ctx.withStars.set(index, found);
  return found;
}

function find(ctx: BuildContext, node: GraphNode): number {
  const before = ctx.starsRemovedFrom.get(node.node);
  if (before !== undefined) return nodeWithStars(ctx, before);
  const inputs = node.inputs.map((input) => nodeWithStars(ctx, input));
  if (inputs.every((input, i) => input === node.inputs[i])) return node.node;
  const isStretch = node.domain === 'stretched' && ctx.nodes[node.inputs[0]].domain === 'linear';
  if (node.inputs.length === 1 && (isStretch || !canRepeat(node))) return inputs[0];
  if (!canRepeat(node)) return node.inputs[0] === inputs[0] ? node.node : inputs[0];
  return repeated(ctx, node, inputs);
}

/** A node's work over other inputs, by the very measurements of its own. */
function repeated(ctx: BuildContext, node: GraphNode, inputs: readonly number[]): number {
  const { path, kind, planes, domain, extent, kernel, measurements: figures, hash } = node;
  return ctx.add({ path, kind, version: 1, inputs, planes, domain, extent, kernel, figures, params: ['as', hash] });
}

/** Kinds that leave the sky of stars alone at 0. */
const KEEP_ZERO: ReadonlySet<string> = new Set([MOVES, 'crop', 'mix', 'scale', 'grey', 'calibrate']);

/**
 * The picture that an image's stars were taken from, where it shows stars alone: what stars-only made, however it was moved and mixed with
 * its like since.
 */
export function pictureOfStars(ctx: BuildContext, image: ImageInfo): ImageInfo | undefined {
  const find = (index: number): number | undefined => {
    const from = ctx.starsTakenFrom.get(index);
    if (from !== undefined) return from;
    const node = ctx.nodes[index];
    if (node.inputs.length === 0 || !KEEP_ZERO.has(node.kind)) return undefined;
    const inputs = node.inputs.map(find);
    return inputs.every((input) => input !== undefined) ? repeated(ctx, node, inputs) : undefined;
  };
  const index = find(image.node);
  return index === undefined ? undefined : imageOf(ctx, index);
}

function imageOf(ctx: BuildContext, index: number): ImageInfo {
  const { node, planes, domain, extent } = ctx.nodes[index];
  return { node, planes, domain, extent };
}

/** The image on which an image's stars are measured; see {@link nodeWithStars}. */
export function imageWithStars(ctx: BuildContext, image: ImageInfo): ImageInfo {
  const index = nodeWithStars(ctx, image.node);
  return index === image.node ? image : { ...imageOf(ctx, index), wcs: image.wcs };
}

/** Whether an image is what a starless step left, however it was moved and filtered since. */
export function lacksStars(ctx: BuildContext, { node }: ImageInfo): boolean {
  for (let at = ctx.nodes[node]; ; at = ctx.nodes[at.inputs[0]]) {
    if (ctx.starsRemovedFrom.has(at.node)) return at.kind === 'starless';
    if (at.inputs.length !== 1) return false;
  }
}
