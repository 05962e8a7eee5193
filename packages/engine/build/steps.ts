import { capitalise } from '@owl-loom/base/join-words';
import { stepName } from '@owl-loom/recipe/names';
import { partialStepKernel } from '@owl-loom/algorithms/blend/layer';
import { UserError } from '@owl-loom/base/errors';
import { ownParams, type Step } from '@owl-loom/recipe/schema';
import { STEP_KINDS } from '../steps/index';
import { type Rect, union } from '@owl-loom/image/geometry/rect';
import { issueToUserError } from '@owl-loom/recipe/parse';
import { buildStackSource } from './source';
import type { BuildContext, BuilderImage } from './context';
import { type TransformChain, type GeometricMove, transformedExtent, resampleKernel } from '../transform-chain';
import type { Domain } from '@owl-loom/image/pixel-function';
import type { ImageInfo, LinearMap } from '../node-kernel';
import { linearKernel } from '../linear-kernel';
import { findLinearAncestor } from '../linear-ancestor';
import { imageWithStars, lacksStars, pictureOfStars } from './with-stars';
import type { StepNode, IntermediateNode, StepKind, StepContext } from '../steps/step-implementation';

/** An image that was not moved yet after all its moves, in one resampling. */
const movedNode = (
  ctx: BuildContext,
  { planes, domain }: BuilderImage,
  { node, moves }: TransformChain,
  extent: Rect,
  path: string,
): number =>
  ctx.add({
    path,
    kind: 'move',
    version: 3,
    inputs: [node],
    planes,
    domain,
    extent,
    kernel: resampleKernel(moves),
    figures: moves.flatMap((move) => move.figures),
    params: moves.map((move) => move.params),
  });

function checkDomain(ctx: BuildContext, { name, accepts }: StepKind, has: Domain, path: string): void {
  const takes = accepts.domain;
  if (takes === 'either' || has === 'either' || takes === has) return;
  ctx.warn(
    path,
    takes === 'linear'
      ? `${capitalise(name)} needs linear data, but the input is stretched. Move it before the stretch.`
      : `${capitalise(name)} needs stretched data, but the input is linear. Add a stretch before it.`,
  );
}

/** What lies below a step, for masks that show it: the cloth under a layer; in strands and on the whole cloth, what comes into the step. */
export type BackdropOf = (input: BuilderImage) => BuilderImage | undefined;

/** One step laid on an image; a step that is off leaves the image as it is. */
function applyStep(ctx: BuildContext, input: BuilderImage, step: Step, path: string, below: BackdropOf): BuilderImage {
  if (step.off) return input;
  const kind = STEP_KINDS.get(step.do);
  if (!kind) throw new Error(`there is no step kind ${step.do}`);
  const given = ownParams(step);
  const checked = kind.params.safeParse(given);
  if (!checked.success) throw issueToUserError(checked.error, given, path);
  const params = checked.data;
  if (kind.accepts.planes === 'mono' && input.planes === 3)
    throw new UserError('takes-mono', `${capitalise(kind.name)} needs a mono image, but the input is in colour.`, path);
  if (kind.accepts.planes === 'colour' && input.planes === 1)
    throw new UserError('takes-colour', `${capitalise(kind.name)} needs a colour image, but the input is mono.`, path);
  checkDomain(ctx, kind, input.domain, path);
  if (kind.needsStars && lacksStars(ctx, input)) {
    ctx.warn(
      path,
      `A step before this one removed the stars, so ${kind.name} has nothing to do. Move it before that step.`,
    );
    return input;
  }
  const others = (kind.strandsRead?.(params) ?? []).map((id) => ctx.strand(id, path));
  const derive = (node: IntermediateNode): ImageInfo => {
    const { planes, domain, extent } = node;
    return { node: ctx.add({ ...node, path }), planes, domain, extent };
  };
  const { hold } = step;
  const place: StepContext = {
    addIntermediate: derive,
    linearAncestor: findLinearAncestor(ctx, input, path),
    withStars: (image) => imageWithStars(ctx, image),
    pictureOfStars: (image) => pictureOfStars(ctx, image),
    partnerImage: (stack) => partnerImage(ctx, input, stack, step.do, path),
    input,
    others,
    sky: ctx.recipe.sky,
    origin: input.pivotRect,
    frame: ctx.frame,
    hold,
    path,
  };
  const mask = step.mask === undefined ? undefined : ctx.mask(step.mask, `${path}.mask`, below(input));
  const part = { opacity: step.opacity ?? 1, mask };
  if (kind.move) {
    const after = moved(ctx, input, kind, kind.move(params, place), path, others[0]?.wcs);
    return blendWithInput(ctx, input, after, part, path);
  }
  const made = kind.build?.(params, place);
  if (!made) throw new Error(`${kind.do} does nothing`);
  // A straight line taken in part is a straight line.
  const { kernel } = made;
  const { opacity } = part;
  if (opacity < 1 && !mask && kernel.linearMap) {
    const share = linearKernel((figures) => blendLinearMap(kernel.linearMap?.(figures), opacity), kernel.report);
    return addStepNode(ctx, input, kind, { ...made, kernel: share }, { params, hold, opacity }, path);
  }
  return blendWithInput(ctx, input, addStepNode(ctx, input, kind, made, { params, hold }, path), part, path);
}

/** A stack moved as an image has been moved, which must still show its own stack's pixels. */
function partnerImage(ctx: BuildContext, input: BuilderImage, stack: string, kind: string, path: string): ImageInfo {
  if (!ctx.stacks.has(stack))
    throw new UserError(
      'missing-stack',
      `Starless stack “${stack}” not found. Available: ${[...ctx.stacks.keys()].join(', ')}.`,
      `${path}.partner`,
    );
  const partner = buildStackSource(ctx, { stack }, `${path}.partner`);
  ctx.sizeMismatches.delete(`${path}.partner`);
  const { geometry } = input;
  const own = ctx.nodes[geometry?.node ?? input.node];
  if (!own.stack)
    throw new UserError(
      'partner-late',
      `${capitalise(stepName(kind))} with a starless file must come before steps that change pixels. Move it right after align or transform.`,
      `${path}.partner`,
    );
  const same = own.extent.width === partner.extent.width && own.extent.height === partner.extent.height;
  if (!same || own.planes !== partner.planes || own.domain !== partner.domain) {
    const of = ({ extent, planes, domain }: Pick<BuilderImage, 'extent' | 'planes' | 'domain'>) =>
      `${extent.width} × ${extent.height} px, ${planes === 3 ? 'in colour' : 'mono'}, ${domain}`;
    throw new UserError(
      'partner-differs',
      `${stack} is ${of(partner)}, and ${own.stack.name} is ${of(own)}; a starless file must be the same image without its stars.`,
      `${path}.partner`,
    );
  }
  if (!geometry) return partner;
  const { planes, domain, extent } = input;
  return { node: movedNode(ctx, input, { ...geometry, node: partner.node }, extent, path), planes, domain, extent };
}

/** Lines that go only a part of the way from x. */
function blendLinearMap(lines: LinearMap | undefined, share: number): LinearMap {
  const { a, b } = lines ?? { a: [0], b: [1] };
  return { a: a.map((v) => share * v), b: b.map((v) => 1 + share * (v - 1)) };
}

/**
 * A further move joins those before it: the pixels are resampled once, from the image that was not moved yet.
 * @param wcs that of the image onto which it is moved, where it is moved onto one
 */
function moved(
  ctx: BuildContext,
  input: BuilderImage,
  kind: StepKind,
  move: GeometricMove,
  path: string,
  wcs: BuilderImage['wcs'],
): BuilderImage {
  const list = path.slice(0, path.lastIndexOf('.'));
  for (const source of ['from', 'of']) ctx.sizeMismatches.delete(`${list}.${source}`);
  const before = input.geometry ?? { node: input.node, extent: input.extent, moves: [] };
  const own = { ...move, params: [kind.do, kind.version, move.params] };
  const geometry: TransformChain = { ...before, moves: [...before.moves, own] };
  const extent = transformedExtent(geometry, ctx.frame);
  return { ...input, node: movedNode(ctx, input, geometry, extent, path), extent, geometry, wcs };
}

function addStepNode(
  ctx: BuildContext,
  input: BuilderImage,
  kind: StepKind,
  step: StepNode,
  params: object,
  path: string,
): BuilderImage {
  const domain = kind.produces.domain === 'same' ? input.domain : kind.produces.domain;
  const { kernel, figures, planes } = step;
  const over = (from: number, extent: Rect): number => {
    const inputs = [from, ...(step.reads ?? [])];
    return ctx.add({
      path,
      kind: kind.do,
      version: kind.version,
      inputs,
      planes,
      domain,
      extent,
      kernel,
      figures,
      params,
    });
  };
  const node = over(step.from ?? input.node, step.extent);
  if (step.starsAlone) ctx.starsTakenFrom.set(node, input.node);
  if (step.removesStars) ctx.starsRemovedFrom.set(node, input.node);
  // a + b·x goes as well before the moves as after them: a later move then still starts from pixels that were never resampled.
  const { geometry } = input;
  const carried =
    geometry && kernel.linearMap ? { ...geometry, node: over(geometry.node, geometry.extent) } : undefined;
  return { ...input, node, planes, domain, extent: step.extent, geometry: carried };
}

/** A step taken in part: `before + (after − before) · opacity · mask`. */
function blendWithInput(
  ctx: BuildContext,
  before: BuilderImage,
  after: BuilderImage,
  { opacity, mask }: { opacity: number; mask?: BuilderImage },
  path: string,
): BuilderImage {
  if (opacity === 1 && !mask) return after;
  const { planes, domain } = after;
  // Where a mask hides a step, what was there before stays.
  const extent = mask ? union(before.extent, after.extent) : after.extent;
  const node = ctx.add({
    path,
    kind: 'part',
    version: 2,
    inputs: [before.node, after.node, ...(mask ? [mask.node] : [])],
    planes,
    domain,
    extent,
    kernel: { prepare: () => partialStepKernel(opacity) },
    params: opacity,
  });
  return { ...after, node, extent, geometry: undefined };
}

/**
 * A list of steps laid on an image, each state kept under its path.
 * @param path of the list, such as `strands[1].steps`
 */
export function buildSteps(
  ctx: BuildContext,
  input: BuilderImage,
  steps: readonly Step[] | undefined,
  path: string,
  below: BackdropOf,
): BuilderImage {
  return (steps ?? []).reduce((image, step, i) => {
    const next = applyStep(ctx, image, step, `${path}[${i}]`, below);
    ctx.byPath.set(`${path}[${i}]`, next.node);
    return next;
  }, input);
}
