import { bottomLayerKernel, blendKernel } from '@owl-loom/algorithms/blend/layer';
import { DISPLAY_BLENDS } from '@owl-loom/algorithms/blend/modes';
import { UserError } from '@owl-loom/base/errors';
import { union } from '@owl-loom/image/geometry/rect';
import type { Layer } from '@owl-loom/recipe/schema';
import { buildSource } from './source';
import { buildSteps } from './steps';
import type { BuildContext, BuilderImage } from './context';
import { combineDomains } from '../graph';

/** One layer by itself: its source with its steps. */
function layerImage(ctx: BuildContext, layer: Layer, path: string, below: BuilderImage | undefined): BuilderImage {
  const nested = (layers: readonly Layer[], at: string) => buildLayers(ctx, layers, at);
  const start = buildSource(ctx, layer.of, `${path}.of`, nested, below);
  ctx.byPath.set(`${path}.of`, start.node);
  const image = buildSteps(ctx, start, layer.steps, `${path}.steps`, () => below);
  ctx.byPath.set(path, image.node);
  if (layer.id) ctx.layers.set(layer.id, image.node);
  return image;
}

/** A layer laid on the cloth below it through its mask; the lowest lies on black. */
function compositeLayer(
  ctx: BuildContext,
  below: BuilderImage | undefined,
  top: BuilderImage,
  layer: Layer,
  path: string,
): BuilderImage {
  const blend = layer.blend ?? 'normal';
  const opacity = layer.opacity ?? 1;
  const mask = layer.mask === undefined ? undefined : ctx.mask(layer.mask, `${path}.mask`, below);
  const through = mask ? [mask.node] : [];
  const made = { path, kind: 'layer', version: 4, params: { blend, opacity } };
  if (!below) {
    if (opacity === 1 && !mask) return top;
    const { planes, domain, extent } = top;
    const kernel = { prepare: () => bottomLayerKernel(opacity) };
    const node = ctx.add({ ...made, inputs: [top.node, ...through], planes, domain, extent, kernel });
    return { ...top, node, geometry: undefined, wcs: undefined };
  }
  const { domain, mixed } = combineDomains([below.domain, top.domain]);
  if (mixed) ctx.warn(path, 'This layer mixes linear and stretched data. Stretch the linear one first.');
  if (DISPLAY_BLENDS.has(blend) && domain === 'linear') {
    ctx.warn(
      `${path}.blend`,
      `Blend mode “${blend}” needs stretched data, but this layer or the cloth below is linear. Stretch both.`,
    );
  }
  const planes = below.planes === 3 || top.planes === 3 ? 3 : 1;
  const extent = union(below.extent, top.extent);
  const kernel = { prepare: () => blendKernel(blend, opacity) };
  const node = ctx.add({ ...made, inputs: [below.node, top.node, ...through], planes, domain, extent, kernel });
  return { ...below, node, planes, domain, extent, geometry: undefined, wcs: undefined };
}

/**
 * Layers from the bottom up. The cloth up to each layer is kept under `<path>[i]@cloth`, the layer by itself under `<path>[i]`. The faults
 * of a hidden layer are its own; a visible one at fault spoils the cloth, and the layers above it are made by themselves all the same.
 * @throws UserError where no layer is visible, or a visible one is at fault
 */
export function buildLayers(ctx: BuildContext, layers: readonly Layer[], path: string): BuilderImage {
  let cloth: BuilderImage | undefined;
  let spoilt: UserError | undefined;
  layers.forEach((layer, i) => {
    const at = `${path}[${i}]`;
    const visible = layer.visible !== false;
    try {
      const top = layerImage(ctx, layer, at, cloth);
      if (visible && !spoilt) cloth = compositeLayer(ctx, cloth, top, layer, at);
    } catch (error) {
      ctx.addError(error, at);
      if (visible && error instanceof UserError) {
        spoilt ??= new UserError(error.code, error.message, error.path ?? at);
        cloth = undefined;
      }
    }
    if (cloth) ctx.byPath.set(`${at}@cloth`, cloth.node);
  });
  if (spoilt) throw spoilt;
  if (!cloth) {
    const why = layers.length ? 'no layer is visible; show at least one.' : 'the cloth has no layers; add one.';
    throw new UserError('no-layers', why, path);
  }
  return cloth;
}
