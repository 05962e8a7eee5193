import { UserError } from '../errors';
import { averageKernel, shares, signalWeight } from '../mix/average';
import { colourNumbers } from '../recipe/parts';
import type { Source } from '../recipe/schema';
import type { BuildContext, Image } from './context';
import { asTone } from '../figures/index';
import { formulaImage } from './build-formula';
import { mixImage } from './build-mix';
import { joined } from './join';

const PLANE_NAMES = ['red', 'green', 'blue'] as const;

/** A stack as an image. A stack of another size than the frame lies with its foot and left side on the frame's. */
export function stackImage(
  ctx: BuildContext,
  source: { stack: string; plane?: 'red' | 'green' | 'blue' },
  path: string,
): Image {
  const info = ctx.stacks.get(source.stack);
  if (!info) {
    const known = [...ctx.stacks.keys()];
    throw new UserError(
      'missing-stack',
      `there is no stack named "${source.stack}"; ${known.length ? `there are ${known.join(', ')}` : 'none has been given'}.`,
      `${path}.stack`,
    );
  }
  if (source.plane && info.planes === 1)
    throw new UserError(
      'no-plane',
      `${source.stack} is mono and has no ${source.plane} plane; leave plane out.`,
      `${path}.plane`,
    );
  const picked = info.planes === 1 ? [0] : source.plane ? [PLANE_NAMES.indexOf(source.plane)] : [0, 1, 2];
  const extent = { x: 0, y: 0, width: info.width, height: info.height };
  if (info.width !== ctx.frame.width || info.height !== ctx.frame.height) {
    ctx.misfits.set(path, {
      path,
      message: `${source.stack} is ${info.width} x ${info.height} pixels and the frame, that of ${ctx.frameName}, is ${ctx.frame.width} x ${ctx.frame.height}; they meet at the lower left corner. Give the strand an align step to register it, or a place step to do so by hand.`,
    });
  }
  const planes = picked.length as 1 | 3;
  const node = ctx.add({
    path,
    kind: 'stack',
    inputs: [],
    planes,
    domain: info.domain,
    extent,
    stack: { name: source.stack, planes: picked },
    version: 1,
    params: [info.id, picked],
  });
  return { node, planes, domain: info.domain, extent, origin: extent, exposure: info.exposure, wcs: info.wcs };
}

function colourImage(ctx: BuildContext, hex: string, path: string): Image {
  const numbers = colourNumbers(hex);
  const node = ctx.add({
    path,
    kind: 'colour',
    inputs: [],
    planes: 3,
    domain: 'either',
    extent: ctx.frame,
    kernel: { bind: () => (_, out) => out.planes.forEach((plane, c) => plane.fill(numbers[c])) },
    version: 1,
    params: hex.toLowerCase(),
  });
  return { node, planes: 3, domain: 'either', extent: ctx.frame, origin: ctx.frame };
}

function averageImage(
  ctx: BuildContext,
  source: { average: string[]; by?: 'equal' | 'exposure' | 'signal' },
  path: string,
): Image {
  const by = source.by ?? 'equal';
  const images = source.average.map((id, i) => ctx.strand(id, `${path}.average[${i}]`));
  const planes: 1 | 3 = images.some((image) => image.planes === 3) ? 3 : 1;
  const missing =
    by === 'exposure' ? images.findIndex((image) => !(image.exposure !== undefined && image.exposure > 0)) : -1;
  if (missing >= 0) {
    throw new UserError(
      'no-exposure',
      `${source.average[missing]} has no known exposure time; average by signal or equal, or give its stack an exposure.`,
      `${path}.average[${missing}]`,
    );
  }
  const { domain, extent, wcs } = joined(ctx, images, path, 'average');
  const fixed = by === 'exposure' ? shares(images.map((image) => image.exposure ?? 0)) : shares(images.map(() => 1));
  const weightsFrom = (figures: readonly Parameters<typeof asTone>[0][]) =>
    by === 'signal' ? shares(figures.map((f) => signalWeight(asTone(f)))) : fixed;
  const node = ctx.add({
    path,
    kind: 'average',
    inputs: images.map((image) => image.node),
    planes,
    domain,
    extent,
    figures:
      by === 'signal' ? images.map((image) => ({ kind: 'tone', nodes: [image.node], region: ctx.recipe.sky })) : [],
    kernel: {
      bind: (figures) => averageKernel(weightsFrom(figures)),
      describe: (figures) => ({
        weights: Object.fromEntries(source.average.map((id, i) => [id, weightsFrom(figures)[i]])),
      }),
    },
    version: 2,
    params: { by, weights: by === 'exposure' ? fixed : undefined },
  });
  const exposures = images.map((image) => image.exposure);
  const total = exposures.every((e) => e !== undefined)
    ? exposures.reduce<number>((sum, e) => sum + (e ?? 0), 0)
    : undefined;
  return { node, planes, domain, extent, origin: ctx.frame, exposure: total, wcs };
}

/**
 * The image that a source stands for.
 * @param below the cloth under the layer, where there is one
 */
export function sourceImage(
  ctx: BuildContext,
  source: Source,
  path: string,
  nested: (layers: Extract<Source, { layers: unknown }>['layers'], path: string) => Image,
  below?: Image,
): Image {
  if ('stack' in source) return stackImage(ctx, source, path);
  if ('strand' in source) return ctx.strand(source.strand, `${path}.strand`);
  if ('mix' in source) return mixImage(ctx, source, path);
  if ('average' in source) return averageImage(ctx, source, path);
  if ('colour' in source) return colourImage(ctx, source.colour, path);
  if ('layers' in source) return nested(source.layers, `${path}.layers`);
  if ('formula' in source) return formulaImage(ctx, source.formula, path);
  if (!below)
    throw new UserError(
      'nothing-below',
      'there is no cloth below the lowest layer; give it another source.',
      `${path}.below`,
    );
  return below;
}
