import { type Affine, compose, IDENTITY } from '@owl-loom/image/geometry/affine';
import { type Alignment, alignWcs } from '@owl-loom/algorithms/registration/align';
import type { AlignModel } from '@owl-loom/algorithms/registration/solve';
import type { ContinuumMethod } from '@owl-loom/algorithms/continuum/result';
import { contentKey } from '@owl-loom/base/content-hash';
import {
  MEASUREMENT_KINDS,
  type Measurement,
  type MeasurementSpec,
  expectKind,
} from '@owl-loom/engine/measurements/index';
import type { AlignFigure } from '@owl-loom/engine/measurements/align';
import { UserError } from '@owl-loom/base/errors';
import type { FitMethod } from '@owl-loom/algorithms/linear-fit/linear';
import { affineMatrix } from '@owl-loom/engine/steps/align';
import type { WorkerPool } from '../workers/worker-pool';
import { shareMeasurement } from '../worker-tasks/shared-measurement';
import type { SharedRaster } from '../pixels/shared-raster';
import type { OpenStack } from '../pixels/open-stack';
import { loadStack, openStack, sameSize } from '../render/stack';
import { printJson, withPool } from './options';

const METHODS: readonly FitMethod[] = ['auto', 'pixels', 'levels'];
const CONTINUUM_METHODS: readonly ContinuumMethod[] = ['stars', 'skewness'];
const MODELS: readonly AlignModel[] = ['shift', 'similarity', 'affine'];

/** Loads files whole and measures one measurement of them, with all that it stands on. */
async function measured(pool: WorkerPool, files: readonly OpenStack[], spec: MeasurementSpec): Promise<Measurement> {
  const images: SharedRaster[] = [];
  for (const file of files) images.push(await loadStack(pool, file));
  const ids = files.map(({ info }) => info.id);
  const figure = async (of: MeasurementSpec): Promise<Measurement> => {
    const kind = MEASUREMENT_KINDS[of.kind];
    const on = await Promise.all(
      (kind.dependsOn?.(of) ?? []).map(async (under) =>
        shareMeasurement(contentKey([ids, under]), await figure(under)),
      ),
    );
    const looked = kind.pixelInputs?.(of) ?? of.nodes.map((_, i) => i);
    return pool.measure({ spec: of, images: looked.map((i) => images[of.nodes[i]]), on });
  };
  return figure(spec);
}

async function measureFit(
  pool: WorkerPool,
  options: { reference: string; target: string; method: string },
): Promise<void> {
  const method = METHODS.find((name) => name === options.method);
  if (!method) throw new UserError('bad-option', `--method takes auto, pixels or levels, not "${options.method}".`);
  const reference = await openStack(pool, options.reference);
  const target = await openStack(pool, options.target);
  sameSize(target, reference);
  if (target.info.planes === 1 && reference.info.planes === 3)
    throw new UserError(
      'fit-planes',
      `${reference.name} is in colour and ${target.name} is mono; give a mono reference.`,
    );
  const fits = expectKind(
    'fit',
    await measured(pool, [target, reference], { kind: 'fit', nodes: [0, 1], method }),
  ).planes;
  printJson(fits.length === 1 ? fits[0] : fits);
}

async function measureTheContinuum(
  pool: WorkerPool,
  options: { line: string; broad: string; method: string },
): Promise<void> {
  const method = CONTINUUM_METHODS.find((name) => name === options.method);
  if (!method) throw new UserError('bad-option', `--method takes stars or skewness, not "${options.method}".`);
  const line = await openStack(pool, options.line);
  const broad = await openStack(pool, options.broad);
  sameSize(line, broad);
  for (const file of [line, broad])
    if (file.info.planes === 3)
      throw new UserError('takes-mono', `${file.name} is in colour, and the continuum is measured of mono images.`);
  const { k, kError, stars, belowSky, starlit } = expectKind(
    'continuum',
    await measured(pool, [line, broad], { kind: 'continuum', nodes: [0, 1], method }),
  );
  if (!starlit)
    process.stderr.write(
      'warning: gas, not starlight, makes up most of the line image, so its skewness may turn elsewhere; stars tell better.\n',
    );
  printJson({ k, kError, stars, belowSky, method });
}

/** A flip of a file's rows, for files that run from the top down: the command speaks of rows along NAXIS2. */
const rowsOf = (file: OpenStack): Affine =>
  file.topDown ? { ...IDENTITY, yy: -1, ty: file.info.height - 1 } : IDENTITY;

async function measureAlign(
  pool: WorkerPool,
  options: { reference: string; target: string; model: string; by: string },
): Promise<void> {
  const model = MODELS.find((name) => name === options.model);
  if (!model) throw new UserError('bad-option', `--model takes shift, similarity or affine, not "${options.model}".`);
  const reference = await openStack(pool, options.reference);
  const target = await openStack(pool, options.target);
  const by = options.by === 'structures' ? options.by : undefined;
  const spec: MeasurementSpec = { kind: 'align', nodes: [0, 1], model, ...(by && { by }) };
  const { map, rms, matched, mirrored, ...quality }: AlignFigure =
    options.by === 'wcs'
      ? { kind: 'align', ...byWcs(target, reference, model) }
      : expectKind('align', await measured(pool, [target, reference], spec));
  const inFile = compose(compose(rowsOf(target), map), rowsOf(reference));
  printJson({
    matrix: affineMatrix(inFile),
    rms,
    matched,
    mirrored: target.topDown === reference.topDown ? mirrored : !mirrored,
    ...(by && { correlation: quality.correlation, certainty: quality.certainty }),
  });
}

function byWcs(target: OpenStack, reference: OpenStack, model: AlignModel): Alignment {
  const wcs = (file: OpenStack) => {
    const found = file.info.wcs;
    if (!found) throw new UserError('align-no-wcs', `${file.name} has no WCS; align by stars.`);
    if ('trouble' in found)
      throw new UserError('align-bad-wcs', `The WCS of ${file.name} cannot be used: ${found.trouble}; align by stars.`);
    return found;
  };
  return alignWcs(wcs(target), wcs(reference), target.info, model);
}

/** The measurements by their names on the command line. */
export const fit = withPool(measureFit);
export const continuum = withPool(measureTheContinuum);
export const align = withPool(measureAlign);
