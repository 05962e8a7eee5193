import { UserError } from '@owl-loom/base/errors';
import { expectBackground, type MeasurementSpec, expectKind } from '../measurements/index';
import { replaceLuminanceLab, replaceLuminanceRatio } from '@owl-loom/algorithms/mix/luminance';
import { isShared, activeWeights } from '@owl-loom/recipe/mix-weights';
import { mixKernel } from '@owl-loom/algorithms/mix/mix';
import type { Mix } from '@owl-loom/recipe/schema';
import { buildLuminance } from './luminance';
import type { BuildContext, BuilderImage } from './context';
import type { StarSource } from '../node-kernel';
import { combineImageInfo } from './combine-inputs';

const PLANE_NAMES = ['red', 'green', 'blue'] as const;

type Weights = Readonly<Record<string, number>>;

/** Columns of a mix over the strands that have a weight in them: red, green and blue, or one alone. */
function columnsImage(
  ctx: BuildContext,
  columns: readonly { readonly name: keyof Mix['mix']; readonly weights: Weights }[],
  source: Mix,
  path: string,
): BuilderImage {
  const ids = [...new Set(columns.flatMap(({ weights }) => Object.keys(weights)))];
  const mono = columns.length === 1;
  const images = ids.map((id) => {
    const { name } = columns.find(({ weights }) => Object.hasOwn(weights, id)) ?? columns[0];
    const image = ctx.strand(id, `${path}.mix.${name}.${id}`);
    return mono ? buildLuminance(ctx, image, path) : image;
  });
  const weights = columns.map((column) => ids.map((id) => column.weights[id] ?? 0));
  const gains = ids.map((id) => source.gain?.[id] ?? 1);
  const gained = ids.map((_, k) => k).filter((k) => gains[k] !== 1);
  const figures: MeasurementSpec[] = gained.map((k) => ({
    kind: 'tone',
    nodes: [images[k].node],
    region: ctx.recipe.sky,
  }));
  const share = columns.map(({ name }) => isShared(source, name));
  const { domain, extent, wcs } = combineImageInfo(ctx, images, path, 'mix');
  const planes = mono ? 1 : 3;
  const node = ctx.add({
    path,
    kind: 'mix',
    inputs: images.map((image) => image.node),
    planes,
    domain,
    extent,
    figures,
    kernel: {
      starSources: starsOf(images, weights, gains, share),
      prepare: (measured) =>
        mixKernel({
          columns: weights,
          share,
          gains: gains.map((g, k) => ({
            gain: g,
            sky: g === 1 ? [0] : expectBackground(measured[gained.indexOf(k)]).map((t) => t.sky),
          })),
        }),
      ...(gained.length > 0 && {
        report: (measured) => ({
          sky: Object.fromEntries(
            gained.map((k, i) => [ids[k], single(expectBackground(measured[i]).map((t) => t.sky))]),
          ),
        }),
      }),
    },
    version: 2,
    // One word where all columns are alike, as before there was a choice.
    params: { weights, share: share.every((one) => one === share[0]) ? share[0] : share, gains },
  });
  return { node, planes, domain, extent, pivotRect: ctx.frame, wcs };
}

/** Where each column is one strand's own, brighter or fainter: its stars are that strand's. */
function starsOf(
  images: readonly BuilderImage[],
  weights: readonly (readonly number[])[],
  gains: readonly number[],
  share: readonly boolean[],
): StarSource[] | undefined {
  const found = weights.map((column, plane): StarSource | undefined => {
    const used = column.flatMap((w, input) => (w === 0 ? [] : [{ input, w }]));
    if (used.length !== 1) return undefined;
    const [{ input, w }] = used;
    const by = (share[plane] ? Math.sign(w) : w) * gains[input];
    return by > 0 ? { input, plane: images[input].planes === 3 ? plane : 0, by } : undefined;
  });
  return found.every((from) => from !== undefined) ? found : undefined;
}

const single = (values: number[]) => (values.length === 1 ? values[0] : values);

/**
 * A colour with another luminance (design §5): in L*a*b* on stretched data, by ratio about the sky on linear data, the luminance first
 * brought to the brightness of the colour's own.
 */
function withLuminance(ctx: BuildContext, colour: BuilderImage, luminance: BuilderImage, path: string): BuilderImage {
  const { domain, extent, wcs } = combineImageInfo(ctx, [colour, luminance], path, 'mix');
  const image = { planes: 3 as const, domain, extent, pivotRect: ctx.frame, wcs };
  const made = { path, kind: 'luminance', version: 2, inputs: [colour.node, luminance.node], planes: 3 as const };
  if (domain !== 'linear') {
    const node = ctx.add({ ...made, domain, extent, kernel: { prepare: () => replaceLuminanceLab }, params: 'lab' });
    return { ...image, node };
  }
  const own = buildLuminance(ctx, colour, path);
  const region = ctx.recipe.sky;
  const figures: MeasurementSpec[] = [
    ...[colour, own, luminance].map(({ node }): MeasurementSpec => ({ kind: 'tone', nodes: [node], region })),
    { kind: 'fit', nodes: [luminance.node, own.node], method: 'auto', sky: region },
  ];
  const node = ctx.add({
    ...made,
    domain,
    extent,
    figures,
    kernel: {
      prepare: ([tone, grey, sky, fit]) =>
        replaceLuminanceRatio({
          skies: expectBackground(tone).map((t) => t.sky),
          noise: expectBackground(grey)[0].noise,
          sky: expectBackground(sky)[0].sky,
          factor: expectKind('fit', fit).planes[0].b,
        }),
      report: ([, , , fit]) => ({ luminance: expectKind('fit', fit).planes[0].b }),
    },
    params: 'ratio',
  });
  return { ...image, node };
}

/** The tie-up: strands to red, green, blue and luminance by weights. */
export function buildMix(ctx: BuildContext, source: Mix, path: string): BuilderImage {
  const columnsOf = (mix: Mix['mix']) => ({
    columns: PLANE_NAMES.map((name) => ({ name, weights: mix[name] ?? {} })),
    luminance: { name: 'luminance' as const, weights: mix.luminance ?? {} },
  });
  const { columns, luminance } = columnsOf(source.mix);
  const used = (list: readonly { weights: Weights }[]) => list.some(({ weights }) => Object.keys(weights).length > 0);
  if (!used(columns))
    throw new UserError(
      'empty-mix',
      used([luminance])
        ? 'Luminance needs a colour. Give at least one strand a weight in R, G or B.'
        : 'The tie-up is empty. Give at least one strand a weight in R, G or B.',
      `${path}.mix`,
    );
  for (const name of Object.keys(source.gain ?? {})) {
    if (![...columns, luminance].some(({ weights }) => Object.hasOwn(weights, name)))
      throw new UserError(
        'unused-gain',
        `${name} has a gain but no weight. Set a weight or remove the gain.`,
        `${path}.gain.${name}`,
      );
  }
  for (const id of source.off?.strands ?? []) {
    if (![...columns, luminance].some(({ weights }) => Object.hasOwn(weights, id)))
      throw new UserError(
        'unused-off',
        `${id} is turned off but has no weight. Set a weight or remove it from “off”.`,
        `${path}.off.strands`,
      );
  }
  const on = columnsOf(activeWeights(source));
  if (!used(on.columns))
    throw new UserError('all-off', 'All weighted strands are off. Turn a strand or column on.', `${path}.off`);
  const colour = columnsImage(ctx, on.columns, source, path);
  return used([on.luminance])
    ? withLuminance(ctx, colour, columnsImage(ctx, [on.luminance], source, path), path)
    : colour;
}
