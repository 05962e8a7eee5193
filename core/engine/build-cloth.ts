import { groundKernel, layerKernel } from '../blend/layer';
import { DISPLAY_BLENDS, isBlend } from '../blend/modes';
import { UserError } from '../errors';
import { union } from '../raster/rect';
import type { Layer } from '../recipe/schema';
import { sourceImage } from './build-source';
import { applySteps } from './build-steps';
import type { BuildContext, Image } from './context';
import { joinDomains } from './graph';

/** One layer by itself: its source with its steps. */
function layerImage(ctx: BuildContext, layer: Layer, path: string, below: Image | undefined): Image {
  const nested = (layers: readonly Layer[], at: string) => layersImage(ctx, layers, at);
  const start = sourceImage(ctx, layer.of, `${path}.of`, nested, below);
  ctx.byPath.set(`${path}.of`, start.node);
  const image = applySteps(ctx, start, layer.steps, `${path}.steps`);
  ctx.byPath.set(path, image.node);
  if (layer.id) ctx.layers.set(layer.id, image.node);
  return image;
}

function lay(ctx: BuildContext, below: Image | undefined, top: Image, layer: Layer, path: string): Image {
  const blend = layer.blend ?? 'normal';
  const opacity = layer.opacity ?? 1;
  if (!isBlend(blend))
    throw new UserError(
      'not-available',
      `the blend mode ${blend} is not available yet; normal, add, screen and lighten are.`,
      `${path}.blend`,
    );
  if (layer.mask !== undefined)
    throw new UserError('not-available', 'masks are not available yet; take the mask off this layer.', `${path}.mask`);
  if (!below) {
    if (opacity === 1) return top;
    const node = ctx.add({
      path,
      kind: 'layer',
      inputs: [top.node],
      planes: top.planes,
      domain: top.domain,
      extent: top.extent,
      kernel: { bind: () => groundKernel(opacity) },
      identity: { opacity },
    });
    return { ...top, node, geometry: undefined, wcs: undefined };
  }
  const { domain, mixed } = joinDomains([below.domain, top.domain]);
  if (mixed) ctx.warn(path, 'this layer joins linear and stretched images; stretch the linear one first.');
  if (DISPLAY_BLENDS.has(blend) && domain === 'linear') {
    ctx.warn(
      `${path}.blend`,
      `${blend} is made for stretched data, and this layer or the cloth below it is still linear; stretch both first.`,
    );
  }
  const planes = below.planes === 3 || top.planes === 3 ? 3 : 1;
  const extent = union(below.extent, top.extent);
  const node = ctx.add({
    path,
    kind: 'layer',
    inputs: [below.node, top.node],
    planes,
    domain,
    extent,
    kernel: { bind: () => layerKernel(blend, opacity) },
    identity: { blend, opacity },
  });
  return { ...below, node, planes, domain, extent, geometry: undefined, wcs: undefined };
}

/**
 * Layers from the bottom up. The cloth up to each layer is kept under `<path>[i]@cloth`, the layer by itself under `<path>[i]`.
 * @throws UserError where no layer is visible
 */
export function layersImage(ctx: BuildContext, layers: readonly Layer[], path: string): Image {
  let cloth: Image | undefined;
  layers.forEach((layer, i) => {
    const at = `${path}[${i}]`;
    const top = layerImage(ctx, layer, at, cloth);
    if (layer.visible !== false) cloth = lay(ctx, cloth, top, layer, at);
    if (cloth) ctx.byPath.set(`${at}@cloth`, cloth.node);
  });
  if (!cloth)
    throw new UserError(
      'no-layers',
      layers.length ? 'no layer is visible; show at least one.' : 'the cloth has no layers; add one.',
      path,
    );
  return cloth;
}
