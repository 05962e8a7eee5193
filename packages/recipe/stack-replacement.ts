import { formatDuration } from '@owl-loom/base/format-duration';
import type { Recipe } from './schema';
import { isPathInside, stepOwners, stackOf, strandOwners, transitiveDependents, strandDependencies } from './walk';

/** What is told of a stack before and after a newer file took its place. */
export interface StackMetrics {
  readonly noise: number | null;
  readonly sky: number | null;
  /** Stars' width in pixels. */
  readonly fwhm: number | null;
  /** Seconds. */
  readonly exposure: number | null;
  readonly width: number;
  readonly height: number;
}

/** Changes smaller than this share are none that people care about. */
const CARED = 0.02;

const number = (v: number): string => String(Number(v.toPrecision(3)));

/** How a number has moved, in words; nothing where it has hardly. */
function moved(
  what: string,
  [less, more]: readonly [string, string],
  before: number | null,
  after: number | null,
  say: (v: number) => string = number,
): string[] {
  if (before === null || after === null || !(before > 0)) return [];
  const by = after / before - 1;
  if (Math.abs(by) < CARED) return [];
  return [`${what} ${Math.abs(100 * by).toFixed(0)} % ${by < 0 ? less : more} (${say(before)} → ${say(after)})`];
}

/** What has changed in a stack, in words. */
export function describeReplacement(before: StackMetrics, after: StackMetrics): string[] {
  return [
    ...(before.width !== after.width || before.height !== after.height
      ? [`${before.width} × ${before.height} px → ${after.width} × ${after.height} px`]
      : []),
    ...moved('exposure', ['shorter', 'longer'], before.exposure, after.exposure, (v) => formatDuration(v)),
    ...moved('noise', ['less', 'more'], before.noise, after.noise),
    ...moved('stars', ['narrower', 'wider'], before.fwhm, after.fwhm, (v) => `${number(v)} px`),
    ...moved('sky', ['darker', 'brighter'], before.sky, after.sky),
  ];
}

/** Paths of the steps whose pinned measurements were taken on what a stack was: on strands made of it, and on whatever reads those. */
export function pinnedStepsAffectedBy(recipe: Recipe, stack: string): string[] {
  const owners = [...stepOwners(recipe)];
  const first = strandOwners(recipe).filter(({ source }) => source && stackOf(source) === stack);
  const made = new Set(first.flatMap(({ id }) => (id === undefined ? [] : [...transitiveDependents(recipe, id)])));
  const places = strandOwners(recipe).filter(({ id }) => id !== undefined && made.has(id));
  return owners
    .filter(
      (owner) =>
        owner.kind === 'cloth' ||
        places.some(({ path }) => isPathInside(owner.path, path)) ||
        strandDependencies(owner).some((id) => made.has(id)),
    )
    .flatMap(({ steps, stepsPath }) => steps.flatMap(({ hold }, i) => (hold ? [`${stepsPath}[${i}]`] : [])));
}
