import { UserError } from '@owl-loom/base/errors';
import { unpackFields, referencePlane } from '../measurements/stars';
import { hueKernel } from '@owl-loom/algorithms/mask/hue';
import { paintKernel } from '@owl-loom/algorithms/mask/paint';
import { starMaskKernel } from '@owl-loom/algorithms/mask/stars';
import type { Layer, Mask } from '@owl-loom/recipe/schema';
import { hueRange as hueSchema, paint as paintSchema } from '@owl-loom/recipe/mask-schema';
import { buildLuminance } from './luminance';
import { buildSource } from './source';
import { buildSteps } from './steps';
import type { BuildContext, BuilderImage } from './context';
import { ONE_MINUS_KERNEL } from '../linear-kernel';
import { nodeWithStars } from './with-stars';

/** Makes the layers of a mask that is made of some. */
export type BuildNestedLayers = (ctx: BuildContext, layers: readonly Layer[], path: string) => BuilderImage;

/** The stars of a strand as a mask. */
function starMask(ctx: BuildContext, { starMask: id, grow = 1.5 }: { starMask: string; grow?: number }, path: string) {
  const strand = ctx.strand(id, `${path}.starMask`);
  const node = ctx.add({
    path,
    kind: 'star-mask',
    version: 1,
    inputs: [],
    planes: 1,
    domain: 'either',
    extent: ctx.frame,
    figures: [{ kind: 'stars', nodes: [nodeWithStars(ctx, strand.node)] }],
    kernel: {
      prepare: ([stars], level) => starMaskKernel(referencePlane(unpackFields(stars)), grow, level),
      report: ([stars]) => ({ stars: referencePlane(unpackFields(stars)).stars.length }),
    },
    params: { grow },
  });
  return { node, planes: 1 as const, domain: 'either' as const, extent: ctx.frame, pivotRect: ctx.frame };
}

/** Where an image shows a family of hues. */
function hueImage(ctx: BuildContext, image: BuilderImage, hue: NonNullable<Mask['hue']>, path: string): BuilderImage {
  if (image.planes === 1)
    throw new UserError(
      'no-hue',
      'A hue mask needs a colour source, but this one is mono. Choose a colour strand or the cloth below.',
      path,
    );
  const range = hueSchema.parse(hue);
  const { domain, extent } = image;
  const isCoded = domain !== 'linear';
  const node = ctx.add({
    path,
    kind: 'hue-mask',
    version: 1,
    inputs: [image.node],
    planes: 1,
    domain: 'stretched',
    extent,
    kernel: { prepare: () => hueKernel(range, isCoded) },
    params: { ...range, isCoded },
  });
  return { ...image, node, planes: 1, domain: 'stretched', geometry: undefined };
}

function painted(
  ctx: BuildContext,
  image: BuilderImage,
  paint: NonNullable<Mask['paint']>,
  path: string,
): BuilderImage {
  const list = paint.map((item) => paintSchema.parse(item));
  list.forEach((item, i) => {
    if (item.shape === 'ramp' && item.from[0] === item.to[0] && item.from[1] === item.to[1])
      throw new UserError('flat-ramp', 'A ramp needs two different points.', `${path}[${i}].to`);
  });
  const node = ctx.add({
    path,
    kind: 'paint',
    version: 1,
    inputs: [image.node],
    planes: 1,
    domain: image.domain,
    extent: ctx.frame,
    kernel: { prepare: (_, level) => paintKernel(list, level) },
    params: list,
  });
  return { ...image, node, extent: ctx.frame, geometry: undefined };
}

function inverted(ctx: BuildContext, image: BuilderImage, path: string): BuilderImage {
  const { domain, extent } = image;
  const made = { path, kind: 'invert', version: 1, planes: 1, domain, extent, kernel: ONE_MINUS_KERNEL } as const;
  const node = ctx.add({ ...made, inputs: [image.node] });
  return { ...image, node, geometry: undefined };
}

/** A mask by itself: what it is made of, its steps, its paint, and the whole inverted. It never warns of linear data. */
function maskImage(
  ctx: BuildContext,
  mask: Mask,
  path: string,
  below: BuilderImage | undefined,
  nested: BuildNestedLayers,
): BuilderImage {
  return ctx.withoutWarnings(() => {
    const { of, hue, steps, paint = [], invert } = mask;
    const inside = (layers: readonly Layer[], at: string) => nested(ctx, layers, at);
    const start =
      'starMask' in of ? starMask(ctx, of, `${path}.of`) : buildSource(ctx, of, `${path}.of`, inside, below);
    ctx.byPath.set(`${path}.of`, start.node);
    const first = hue ? hueImage(ctx, start, hue, `${path}.hue`) : buildLuminance(ctx, start, `${path}.of`);
    const stepped = buildSteps(ctx, first, steps, `${path}.steps`, () => below);
    let image = buildLuminance(ctx, stepped, path);
    if (paint.length > 0) image = painted(ctx, image, paint, `${path}.paint`);
    if (invert) image = inverted(ctx, image, path);
    ctx.byPath.set(path, image.node);
    return image;
  });
}

/** Whether a mask shows what lies below the layer or step that it is used on, so that each use makes one of its own. */
function readsBelow(ctx: BuildContext, use: string | Mask, seen: readonly string[] = []): boolean {
  if (typeof use !== 'string') {
    const { of, steps = [] } = use;
    return 'below' in of || steps.some(({ mask }) => mask !== undefined && readsBelow(ctx, mask, seen));
  }
  const shared = ctx.recipe.masks?.find(({ id }) => id === use);
  return shared !== undefined && !seen.includes(use) && readsBelow(ctx, shared, [...seen, use]);
}

/**
 * The mask of a layer or a step.
 * @param use a shared one by its id, or one written in place
 * @param below the cloth below the layer
 * @throws UserError where there is no such mask, or it is at fault
 */
export function resolveMask(
  ctx: BuildContext,
  use: string | Mask,
  path: string,
  below: BuilderImage | undefined,
  nested: BuildNestedLayers,
): BuilderImage {
  if (typeof use !== 'string') return maskImage(ctx, use, path, below, nested);
  const masks = ctx.recipe.masks ?? [];
  const index = masks.findIndex(({ id }) => id === use);
  if (index < 0) {
    const known = masks.map(({ id }) => id).join(', ');
    throw new UserError(
      'unknown-mask',
      `Mask “${use}” not found. ${known ? `Available: ${known}` : 'This recipe has no masks'}.`,
      path,
    );
  }
  const own = readsBelow(ctx, use) ? `mask ${use} over ${below?.node}` : `mask ${use}`;
  return ctx.named.once(own, use, path, () => maskImage(ctx, masks[index], `masks[${index}]`, below, nested));
}

/** Makes the shared masks that hang on no place, each once, so that they can be seen wherever they are used, and where they are not. */
export function buildSharedMasks(ctx: BuildContext, nested: BuildNestedLayers): void {
  ctx.recipe.masks?.forEach(({ id }, i) => {
    if (readsBelow(ctx, id)) return;
    try {
      resolveMask(ctx, id, `masks[${i}]`, undefined, nested);
    } catch (error) {
      ctx.addError(error, `masks[${i}]`);
    }
  });
}
