import { partKernel } from '../blend/layer';
import { UserError } from '../errors';
import { ownParams, type Step } from '../recipe/schema';
import { STEP_KINDS } from '../steps/index';
import type { Rect } from '../raster/rect';
import { faultIn } from '../recipe/parse';
import type { BuildContext, Image } from './context';
import { type Geometry, type Move, movedExtent, movesKernel } from './geometry';
import type { Domain, ImageInfo, Lines } from './kernel';
import { linesKernel } from './lines';
import type { BuiltStep, Derived, StepKind, StepPlace } from './step-kind';

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
  const given = ownParams(step);
  const checked = kind.params.safeParse(given);
  if (!checked.success) throw faultIn(checked.error, given, path);
  const params = checked.data;
  if (kind.takes.planes === 'mono' && input.planes === 3)
    throw new UserError('takes-mono', `${step.do} takes a mono image, and what comes here is in colour.`, path);
  if (kind.takes.planes === 'colour' && input.planes === 1)
    throw new UserError('takes-colour', `${step.do} takes a colour image, and what comes here is mono.`, path);
  checkDomain(ctx, step, kind.takes.domain, input.domain, path);
  const others = (kind.strands?.(params) ?? []).map((id) => ctx.strand(id, path));
  const derive = (node: Derived): ImageInfo => {
    const { planes, domain, extent } = node;
    return { node: ctx.add({ ...node, path }), planes, domain, extent };
  };
  const { hold } = step;
  const place: StepPlace = {
    derive,
    input,
    others,
    sky: ctx.recipe.sky,
    origin: input.origin,
    frame: ctx.frame,
    hold,
    path,
  };
  const opacity = step.opacity ?? 1;
  if (kind.move) {
    const after = moved(ctx, input, kind, kind.move(params, place), path, others[0]?.wcs);
    return inPart(ctx, input, after, opacity, path);
  }
  const made = kind.build?.(params, place);
  if (!made) throw new Error(`${kind.do} does nothing`);
  // A straight line taken in part is a straight line.
  const { kernel } = made;
  if (opacity < 1 && kernel.lines) {
    const part = linesKernel((figures) => towards(kernel.lines?.(figures), opacity), kernel.describe);
    return built(ctx, input, kind, { ...made, kernel: part }, { params, hold, opacity }, path);
  }
  return inPart(ctx, input, built(ctx, input, kind, made, { params, hold }, path), opacity, path);
}

/** Lines that go only a part of the way from x. */
function towards(lines: Lines | undefined, share: number): Lines {
  const { a, b } = lines ?? { a: [0], b: [1] };
  return { a: a.map((v) => share * v), b: b.map((v) => 1 + share * (v - 1)) };
}

/**
 * A further move joins those before it: the pixels are resampled once, from the image that was not moved yet.
 * @param wcs that of the image onto which it is moved, where it is moved onto one
 */
function moved(ctx: BuildContext, input: Image, kind: StepKind, move: Move, path: string, wcs: Image['wcs']): Image {
  const list = path.slice(0, path.lastIndexOf('.'));
  for (const source of ['from', 'of']) ctx.misfits.delete(`${list}.${source}`);
  const before = input.geometry ?? { node: input.node, extent: input.extent, moves: [] };
  const own = { ...move, params: [kind.do, kind.version, move.params] };
  const geometry: Geometry = { ...before, moves: [...before.moves, own] };
  const extent = movedExtent(geometry, ctx.frame);
  const node = ctx.add({
    path,
    kind: 'move',
    version: 2,
    inputs: [geometry.node],
    planes: input.planes,
    domain: input.domain,
    extent,
    kernel: movesKernel(geometry.moves),
    figures: geometry.moves.flatMap((m) => m.figures),
    params: geometry.moves.map((m) => m.params),
  });
  return { ...input, node, extent, geometry, wcs };
}

function built(ctx: BuildContext, input: Image, kind: StepKind, step: BuiltStep, params: object, path: string): Image {
  const domain = kind.gives.domain === 'same' ? input.domain : kind.gives.domain;
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
  // a + b·x goes as well before the moves as after them: a later move then still starts from pixels that were never resampled.
  const { geometry } = input;
  const carried = geometry && kernel.lines ? { ...geometry, node: over(geometry.node, geometry.extent) } : undefined;
  return { ...input, node, planes, domain, extent: step.extent, geometry: carried };
}

/** A step taken in part: `before + (after − before) · opacity`. */
function inPart(ctx: BuildContext, before: Image, after: Image, opacity: number, path: string): Image {
  if (opacity === 1) return after;
  const { planes, domain, extent } = after;
  const node = ctx.add({
    path,
    kind: 'part',
    version: 1,
    inputs: [before.node, after.node],
    planes,
    domain,
    extent,
    kernel: { bind: () => partKernel(opacity) },
    params: opacity,
  });
  return { ...after, node, geometry: undefined };
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
