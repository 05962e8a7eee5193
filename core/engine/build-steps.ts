import { partKernel } from '../blend/layer';
import { UserError } from '../errors';
import type { Step } from '../recipe/schema';
import { STEP_KINDS } from '../steps/index';
import type { Rect } from '../raster/rect';
import type { BuiltStep, Derived, Domain, ImageInfo, StepKind, StepPlace } from '../steps/kind';
import type { BuildContext, Image } from './context';
import { type Geometry, type Move, movedExtent, movesKernel } from './geometry';

const EXTRAS = new Set(['do', 'off', 'name', 'opacity', 'mask', 'hold']);

function checkDomain(ctx: BuildContext, step: Step, takes: Domain, has: Domain, path: string): void {
  if (takes === 'either' || has === 'either' || takes === has) return;
  ctx.warn(
    path,
    takes === 'linear'
      ? `${step.do} is made for linear data, and what comes here is stretched; move it before the stretch, or leave it out.`
      : `${step.do} is made for stretched data, and what comes here is linear; put a stretch before it.`,
  );
}

/** One step laid on an image; a step that is off leaves the image as it is. */
function applyStep(ctx: BuildContext, input: Image, step: Step, path: string): Image {
  if (step.off) return input;
  const kind = STEP_KINDS.get(step.do);
  if (!kind)
    throw new UserError(
      'not-available',
      `the step ${step.do} is not available yet; switch it off or take it out.`,
      path,
    );
  if (step.mask !== undefined)
    throw new UserError('not-available', 'masks are not available yet; take the mask off this step.', `${path}.mask`);
  const params = kind.params.parse(Object.fromEntries(Object.entries(step).filter(([key]) => !EXTRAS.has(key))));
  if (kind.takes.planes === 'mono' && input.planes === 3)
    throw new UserError('takes-mono', `${step.do} takes a mono image, and what comes here is in colour.`, path);
  if (kind.takes.planes === 'colour' && input.planes === 1)
    throw new UserError('takes-colour', `${step.do} takes a colour image, and what comes here is mono.`, path);
  checkDomain(ctx, step, kind.takes.domain, input.domain, path);
  const others = (kind.strands?.(params) ?? []).map((id) => ctx.strand(id, path));
  const derive = (node: Derived): ImageInfo => {
    const { planes, domain, extent } = node;
    const measured = (node.figures ?? []).map((spec) => ctx.keyOf(spec));
    return { node: ctx.add({ ...node, path, identity: [node.identity, measured] }), planes, domain, extent };
  };
  const place: StepPlace = {
    derive,
    input,
    others,
    sky: ctx.recipe.sky,
    origin: input.origin,
    frame: ctx.frame,
    hold: step.hold,
    path,
  };
  const identity = {
    version: kind.version,
    params,
    hold: step.hold,
    others: others.map((o) => ctx.nodes[o.node].hash),
  };
  const after = kind.move
    ? moved(ctx, input, kind.move(params, place), identity, path, others[0]?.wcs)
    : built(ctx, input, kind, kind.build?.(params, place), identity, path);
  return inPart(ctx, input, after, step.opacity ?? 1, kind.affine === true, path);
}

/**
 * A further move joins those before it: the pixels are resampled once, from the image that was not moved yet.
 * @param wcs that of the image onto which it is moved, where it is moved onto one
 */
function moved(ctx: BuildContext, input: Image, move: Move, identity: unknown, path: string, wcs: Image['wcs']): Image {
  const list = path.slice(0, path.lastIndexOf('.'));
  for (const source of ['from', 'of']) ctx.misfits.delete(`${list}.${source}`);
  const before = input.geometry ?? { node: input.node, extent: input.extent, moves: [] };
  const geometry: Geometry = { ...before, moves: [...before.moves, { ...move, identity: [identity, move.identity] }] };
  const extent = movedExtent(geometry, ctx.frame);
  const node = ctx.add({
    path,
    kind: 'move',
    inputs: [geometry.node],
    planes: input.planes,
    domain: input.domain,
    extent,
    kernel: movesKernel(geometry.moves),
    figures: geometry.moves.flatMap((m) => m.figures),
    identity: {
      moves: geometry.moves.map((m) => m.identity),
      measured: geometry.moves.flatMap((m) => m.figures.map((spec) => ctx.keyOf(spec))),
    },
  });
  return { ...input, node, extent, geometry, wcs };
}

function built(
  ctx: BuildContext,
  input: Image,
  kind: StepKind,
  step: BuiltStep | undefined,
  identity: object,
  path: string,
): Image {
  if (!step) throw new Error(`${kind.do} does nothing`);
  const domain = kind.gives.domain === 'same' ? input.domain : kind.gives.domain;
  const sky = step.figures.length ? ctx.recipe.sky : undefined;
  const over = (from: number, extent: Rect): number =>
    ctx.add({
      path,
      kind: kind.do,
      inputs: [from, ...(step.reads ?? [])],
      planes: step.planes,
      domain,
      extent,
      kernel: step.kernel,
      figures: step.figures,
      identity: { ...identity, sky, measured: step.figures.map((spec) => ctx.keyOf(spec)) },
    });
  const node = over(step.from ?? input.node, step.extent);
  // a + b·x goes as well before the moves as after them: a later move then still starts from pixels that were never resampled.
  const { geometry } = input;
  const carried =
    geometry && kind.affine && !step.reads?.length && step.from === undefined
      ? { ...geometry, node: over(geometry.node, geometry.extent) }
      : undefined;
  return { ...input, node, planes: step.planes, domain, extent: step.extent, geometry: carried };
}

/** A step taken in part: `before + (after − before) · opacity`. */
function inPart(ctx: BuildContext, before: Image, after: Image, opacity: number, affine: boolean, path: string): Image {
  if (opacity === 1) return after;
  const mixed = (from: number, to: number, extent: Rect): number =>
    ctx.add({
      path,
      kind: 'part',
      inputs: [from, to],
      planes: after.planes,
      domain: after.domain,
      extent,
      kernel: { bind: () => partKernel(opacity) },
      identity: opacity,
    });
  const node = mixed(before.node, after.node, after.extent);
  const { geometry } = after;
  const carried =
    geometry && before.geometry && affine
      ? { ...geometry, node: mixed(before.geometry.node, geometry.node, geometry.extent) }
      : undefined;
  return { ...after, node, geometry: carried };
}

/**
 * A list of steps laid on an image, each state kept under its path.
 * @param path of the list, such as `strands[1].steps`
 */
export function applySteps(ctx: BuildContext, input: Image, steps: readonly Step[] | undefined, path: string): Image {
  return (steps ?? []).reduce((image, step, i) => {
    const next = applyStep(ctx, image, step, `${path}[${i}]`);
    ctx.byPath.set(`${path}[${i}]`, next.node);
    return next;
  }, input);
}
