import { UserError } from '@owl-loom/base/errors';
import { compileFormula, type Program, type ImageStatistic } from '@owl-loom/algorithms/formula/compile';
import { namesRead } from '@owl-loom/algorithms/formula/names';
import type { BuildContext, BuilderImage } from './context';
import { expectBackground, type Measurement, type MeasurementSpec, expectKind } from '../measurements/index';
import { combineImageInfo } from './combine-inputs';

/** A whole number of each plane, from its measurement. */
const numbersOf = ({ key }: ImageStatistic, figure: Measurement): number[] =>
  key === 'sky' || key === 'noise'
    ? expectBackground(figure).map((t) => t[key])
    : expectKind('middle', figure).planes.map((m) => m[key]);

/** A fault in the formula with its path; line and column stand in the sentence. */
function located<T>(path: string, work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof UserError && error.path === undefined) throw new UserError(error.code, error.message, path);
    throw error;
  }
}

/** An image by formula: its strands pixel by pixel, with the levels that it asks for measured of whole strands. */
export function buildFormula(ctx: BuildContext, text: string, path: string): BuilderImage {
  const at = `${path}.formula`;
  const ids = new Set(ctx.recipe.strands.map((strand) => strand.id));
  const images = new Map(
    located(at, () => namesRead(text))
      .filter((name) => ids.has(name))
      .map((name) => [name, ctx.strand(name, at)]),
  );
  // Other strands are not made for a formula that does not read them; they are known by name all the same, for the list of what there is.
  const own = /^strands\[(\d+)\]/.exec(path)?.[1];
  const self = own === undefined ? undefined : ctx.recipe.strands[Number(own)].id;
  const known = new Map(
    [...ids]
      .filter((id) => id !== self || images.has(id))
      .map((id): [string, 1 | 3] => [id, images.get(id)?.planes ?? 1]),
  );
  const program: Program = located(at, () => compileFormula(text, known));
  const of = (name: string): BuilderImage => images.get(name) ?? ctx.strand(name, at);
  const inputs = program.strands.map(of);
  const figures: MeasurementSpec[] = program.imageStatistics.map(({ figure, strand }) =>
    figure === 'tone'
      ? { kind: 'tone', nodes: [of(strand).node], region: ctx.recipe.sky }
      : { kind: 'middle', nodes: [of(strand).node] },
  );
  const { domain, extent, wcs } =
    inputs.length > 0
      ? combineImageInfo(ctx, inputs, path, 'formula')
      : { domain: 'either' as const, extent: ctx.frame, wcs: undefined };
  const numbers = (measured: readonly Measurement[]) =>
    program.imageStatistics.map((whole, i) => numbersOf(whole, measured[i]));
  const node = ctx.add({
    path,
    kind: 'formula',
    inputs: inputs.map((image) => image.node),
    planes: program.planes,
    domain,
    extent,
    figures,
    kernel: {
      prepare: (measured) => {
        const run = program.runner(numbers(measured));
        return (rasters, out, tally) => {
          const errors = run(
            rasters.map((raster) => raster.planes),
            out.planes,
          );
          if (errors > 0) tally('no-answer', errors);
        };
      },
      ...(figures.length > 0 && {
        report: (measured) =>
          Object.fromEntries(
            program.imageStatistics.map(({ key, strand }, i) => [`${key}(${strand})`, single(numbers(measured)[i])]),
          ),
      }),
    },
    version: 1,
    params: { text, names: program.strands },
  });
  return { node, planes: program.planes, domain, extent, pivotRect: ctx.frame, wcs };
}

const single = (values: readonly number[]) => (values.length === 1 ? values[0] : values);
