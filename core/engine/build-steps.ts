import { partKernel } from '../blend/layer';
import { UserError } from '../errors';
import type { Step } from '../recipe/schema';
import { STEP_KINDS } from '../steps/index';
import type { Domain } from '../steps/kind';
import type { BuildContext, Image } from './context';

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
  if (!kind) throw new UserError('not-available', `the step ${step.do} is not available yet; switch it off or take it out.`, path);
  if (step.mask !== undefined) throw new UserError('not-available', 'masks are not available yet; take the mask off this step.', `${path}.mask`);
  const params = kind.params.parse(Object.fromEntries(Object.entries(step).filter(([key]) => !EXTRAS.has(key))));
  if (kind.takes.planes === 'mono' && input.planes === 3) throw new UserError('takes-mono', `${step.do} takes a mono image, and what comes here is in colour.`, path);
  if (kind.takes.planes === 'colour' && input.planes === 1) throw new UserError('takes-colour', `${step.do} takes a colour image, and what comes here is mono.`, path);
  checkDomain(ctx, step, kind.takes.domain, input.domain, path);
  const others = (kind.strands?.(params) ?? []).map((id) => ctx.strand(id, path));
  const built = kind.build(params, { input, others, sky: ctx.recipe.sky, origin: input.origin, hold: step.hold, path });
  const domain = kind.gives.domain === 'same' ? input.domain : kind.gives.domain;
  const node = ctx.add({
    path,
    kind: step.do,
    inputs: [input.node],
    planes: built.planes,
    domain,
    extent: built.extent,
    kernel: built.kernel,
    figures: built.figures,
    identity: { version: kind.version, params, hold: step.hold, others: others.map((o) => ctx.nodes[o.node].hash), sky: built.figures.length ? ctx.recipe.sky : undefined },
  });
  const after: Image = { ...input, node, planes: built.planes, domain, extent: built.extent };
  const opacity = step.opacity ?? 1;
  if (opacity === 1) return after;
  const part = ctx.add({
    path,
    kind: 'part',
    inputs: [input.node, node],
    planes: built.planes,
    domain,
    extent: built.extent,
    kernel: { bind: () => partKernel(opacity) },
    identity: opacity,
  });
  return { ...after, node: part };
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
