import { ownerName } from '@owl-loom/recipe/names';
import { stepLocation, stepsAt, withoutStep, withStep, withStepMoved } from '@owl-loom/recipe/paths';
import type { Recipe, Step } from '@owl-loom/recipe/schema';
import { layersOfList, type StepOwner, stepOwnerAt, strandOwners, strandsReadBySource } from '@owl-loom/recipe/walk';
import { isMoveStep, STEP_SPECS } from '@owl-loom/recipe/steps/index';

/** A place where a step finds linear data: what the press says, the recipe with the step there, and the path of the step then. */
export interface LinearPlace {
  readonly label: string;
  readonly recipe: Recipe;
  readonly chosen: string;
}

/** Index of the first step that makes linear data stretched; −1 where none does. */
const stretchIn = (steps: readonly Step[]): number =>
  steps.findIndex(({ do: kind, off }) => {
    const known = STEP_SPECS.get(kind);
    return !off && known?.accepts.domain === 'linear' && known.produces.domain === 'stretched';
  });

/** What an owner is made of: the visible layers of the cloth or of a layer's inside; the strands that its source reads. */
function sourcesOf(recipe: Recipe, owner: StepOwner): StepOwner[] {
  const layers = layersOfList(recipe, owner.kind === 'cloth' ? owner.sourcePath : `${owner.sourcePath}.layers`);
  if (layers.length > 0) return layers.filter(({ visible }) => visible);
  const read = owner.source ? strandsReadBySource(owner.source) : [];
  return strandOwners(recipe).filter(({ id }) => id !== undefined && read.includes(id));
}

/** The nearest of what an owner is made of that fit, however far up, each once. */
function nearest(
  recipe: Recipe,
  owner: StepOwner,
  fits: (source: StepOwner) => boolean,
  seen = new Set<string>(),
): StepOwner[] {
  return sourcesOf(recipe, owner).flatMap((source) => {
    if (seen.has(source.path)) return [];
    seen.add(source.path);
    return fits(source) ? [source] : nearest(recipe, source, fits, seen);
  });
}

/** The step on each of several strands, behind what moves their pixels; a mask stays behind, since it is made of what comes there. */
function onEach(recipe: Recipe, { mask: _, ...step }: Step, strands: readonly StepOwner[]): Recipe {
  return strands.reduce((next, { steps, stepsPath }) => {
    const first = steps.findIndex((other) => !isMoveStep(other.do));
    return withStep(next, stepsPath, first < 0 ? steps.length : first, structuredClone(step));
  }, recipe);
}

/**
 * Where a step for linear data can go that stands after a stretch: before the stretch of its own list, else before that of each layer or
 * strand that its owner is made of; and, where it takes one filter by itself, onto each strand from a stack that has none.
 * @param path of the step
 */
export function linearPlaces(recipe: Recipe, path: string): LinearPlace[] {
  const from = stepLocation(path);
  const owner = stepOwnerAt(recipe, path);
  if (!from || !owner) return [];
  const step = stepsAt(recipe, from.list)[from.index];
  const before = (list: string, index: number, label: string): LinearPlace => ({
    label,
    recipe: withStepMoved(recipe, from, { list, index }),
    chosen: `${list}[${index}]`,
  });
  const own = stretchIn(owner.steps.slice(0, from.index));
  const places =
    own >= 0
      ? [before(from.list, own, 'Move before the stretch')]
      : nearest(recipe, owner, ({ steps }) => stretchIn(steps) >= 0).map((source) =>
          before(source.stepsPath, stretchIn(source.steps), `Move before the stretch of ${ownerName(recipe, source)}`),
        );
  const kind = STEP_SPECS.get(step.do);
  const strands = nearest(recipe, owner, ({ source }) => source !== undefined && 'stack' in source).filter(
    ({ steps }) => !steps.some((other) => other.do === step.do && !other.off),
  );
  if (kind?.strandsRead || kind?.accepts.planes === 'colour' || strands.length < 2) return places;
  const each = onEach(withoutStep(recipe, from.list, from.index), step, strands);
  const { path: chosen } = strands[0];
  return [...places, { label: `Move to each strand: ${strands.map(({ id }) => id).join(', ')}`, recipe: each, chosen }];
}
