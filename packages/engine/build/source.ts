import { UserError } from '@owl-loom/base/errors';
import { averageKernel, normaliseWeights, signalWeight } from '@owl-loom/algorithms/mix/average';
import { parseHexColour } from '@owl-loom/algorithms/colour/hex';
import type { Source } from '@owl-loom/recipe/schema';
import type { BuildContext, BuilderImage } from './context';
import { expectBackground } from '../measurements/index';
import { buildFormula } from './formula';
import { buildMix } from './mix';
import { combineImageInfo } from './combine-inputs';

const PLANE_NAMES = ['red', 'green', 'blue'] as const;

/** A stack as an image. A stack of another size than the frame lies with its foot and left side on the frame's. */
export function buildStackSource(
  ctx: BuildContext,
  source: { stack: string; plane?: 'red' | 'green' | 'blue' },
  path: string,
): BuilderImage {
  const info = ctx.stacks.get(source.stack);
  if (!info) {
    const known = [...ctx.stacks.keys()];
    throw new UserError(
      'missing-stack',
      `There is no stack named "${source.stack}"; ${known.length ? `there are ${known.join(', ')}` : 'none has been given'}.`,
      `${path}.stack`,
    );
  }
  if (source.plane && info.planes === 1)
    throw new UserError(
      'no-plane',
      `${source.stack} is mono and has no ${source.plane} channel. Remove “plane”.`,
      `${path}.plane`,
    );
  const picked = info.planes === 1 ? [0] : source.plane ? [PLANE_NAMES.indexOf(source.plane)] : [0, 1, 2];
  const extent = { x: 0, y: 0, width: info.width, height: info.height };
  if (info.width !== ctx.frame.width || info.height !== ctx.frame.height) {
    ctx.sizeMismatches.set(path, {
      path,
      message: `${source.stack} is ${info.width} × ${info.height} px, the frame of ${ctx.frameName} ${ctx.frame.width} × ${ctx.frame.height} px. Add an align step to ${source.stack}, or a transform step to place it by hand.`,
    });
  }
  const planes = picked.length === 3 ? 3 : 1;
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
  return { node, planes, domain: info.domain, extent, pivotRect: extent, exposure: info.exposure, wcs: info.wcs };
}

function colourImage(ctx: BuildContext, hex: string, path: string): BuilderImage {
  const numbers = parseHexColour(hex);
  const node = ctx.add({
    path,
    kind: 'colour',
    inputs: [],
    planes: 3,
    domain: 'either',
    extent: ctx.frame,
    kernel: { prepare: () => (_, out) => out.planes.forEach((plane, c) => plane.fill(numbers[c])) },
    version: 1,
    params: hex.toLowerCase(),
  });
  return { node, planes: 3, domain: 'either', extent: ctx.frame, pivotRect: ctx.frame };
}

function averageImage(
  ctx: BuildContext,
  source: { average: string[]; by?: 'equal' | 'exposure' | 'signal' },
  path: string,
): BuilderImage {
  const by = source.by ?? 'equal';
  const images = source.average.map((id, i) => ctx.strand(id, `${path}.average[${i}]`));
  const planes: 1 | 3 = images.some((image) => image.planes === 3) ? 3 : 1;
  const missing =
    by === 'exposure' ? images.findIndex((image) => !(image.exposure !== undefined && image.exposure > 0)) : -1;
  if (missing >= 0) {
    throw new UserError(
      'no-exposure',
      `Exposure of ${source.average[missing]} unknown. Weight by signal or equally.`,
      `${path}.average[${missing}]`,
    );
  }
  const { domain, extent, wcs } = combineImageInfo(ctx, images, path, 'average');
  const fixed =
    by === 'exposure'
      ? normaliseWeights(images.map((image) => image.exposure ?? 0))
      : normaliseWeights(images.map(() => 1));
  const weightsFrom = (figures: readonly Parameters<typeof expectBackground>[0][]) =>
    by === 'signal' ? normaliseWeights(figures.map((f) => signalWeight(expectBackground(f)))) : fixed;
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
      prepare: (figures) => averageKernel(weightsFrom(figures)),
      report: (figures) => ({
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
  return { node, planes, domain, extent, pivotRect: ctx.frame, exposure: total, wcs };
}

/**
 * The image that a source stands for.
 * @param below the cloth under the layer, where there is one
 */
export function buildSource(
  ctx: BuildContext,
  source: Source,
  path: string,
  nested: (layers: Extract<Source, { layers: unknown }>['layers'], path: string) => BuilderImage,
  below?: BuilderImage,
): BuilderImage {
  if ('stack' in source) return buildStackSource(ctx, source, path);
  if ('strand' in source) return ctx.strand(source.strand, `${path}.strand`);
  if ('mix' in source) return buildMix(ctx, source, path);
  if ('average' in source) return averageImage(ctx, source, path);
  if ('colour' in source) return colourImage(ctx, source.colour, path);
  if ('layers' in source) return nested(source.layers, `${path}.layers`);
  if ('formula' in source) return buildFormula(ctx, source.formula, path);
  if (!below)
    throw new UserError(
      'nothing-below',
      'The lowest layer has nothing below it. Choose another source.',
      `${path}.below`,
    );
  return below;
}
