import { UserError } from '@owl-loom/base/errors';
import { namesRead } from '@owl-loom/algorithms/formula/names';
import { STEP_SPECS } from './steps/index';
import { type Layer, type Mask, ownParams, type Recipe, type Source, type Step } from './schema';

/** What can have steps of its own: each is an image in the making. */
export interface StepOwner {
  readonly kind: 'strand' | 'mask' | 'layer' | 'cloth';
  readonly path: string;
  /** Path of the owner that it lies in; none for strands, shared masks and the cloth. */
  readonly within?: string;
  readonly id?: string;
  /** What it is made of, and where that stands; the cloth is made of its layers. */
  readonly source?: Mask['of'];
  readonly sourcePath: string;
  readonly steps: readonly Step[];
  readonly stepsPath: string;
  /** False where it, or a layer that it lies in, is hidden. */
  readonly visible: boolean;
  /** The shared masks that it and its steps are seen through, by name. */
  readonly masks: readonly string[];
}

type MaskUse = string | Mask | undefined;

/** The shared masks among those of an owner and its steps. */
const named = (steps: readonly Step[], own?: MaskUse): string[] =>
  [own, ...steps.map(({ mask }) => mask)].filter((mask) => typeof mask === 'string');

/** All owners of a source's inside: its layers, where it has any. */
function* inSource(source: Mask['of'], path: string, visible: boolean, within: string): Generator<StepOwner> {
  if ('layers' in source) yield* inLayers(source.layers, `${path}.layers`, visible, within);
}

function* inMaskUse(mask: MaskUse, path: string, visible: boolean, within: string): Generator<StepOwner> {
  if (typeof mask === 'object') yield* inMask(mask, path, visible, within);
}

function* inSteps(
  steps: readonly Step[] | undefined,
  path: string,
  visible: boolean,
  within: string,
): Generator<StepOwner> {
  for (const [i, step] of (steps ?? []).entries()) yield* inMaskUse(step.mask, `${path}[${i}].mask`, visible, within);
}

function* inMask(mask: Mask, path: string, visible: boolean, within?: string): Generator<StepOwner> {
  const { id, of, steps = [] } = mask;
  const where = { sourcePath: `${path}.of`, stepsPath: `${path}.steps`, within };
  yield { kind: 'mask', path, id, source: of, steps, visible, masks: named(steps), ...where };
  yield* inSource(of, `${path}.of`, visible, path);
  yield* inSteps(steps, `${path}.steps`, visible, path);
}

function* inLayers(layers: readonly Layer[], path: string, above: boolean, within: string): Generator<StepOwner> {
  for (const [i, layer] of layers.entries()) {
    const at = `${path}[${i}]`;
    const { id, of, steps = [], mask } = layer;
    const visible = above && layer.visible !== false;
    const where = { sourcePath: `${at}.of`, stepsPath: `${at}.steps`, within };
    yield { kind: 'layer', path: at, id, source: of, steps, visible, masks: named(steps, mask), ...where };
    yield* inSource(of, `${at}.of`, visible, at);
    yield* inSteps(steps, `${at}.steps`, visible, at);
    yield* inMaskUse(mask, `${at}.mask`, visible, at);
  }
}

/** Everything in a recipe that has a list of steps, with its input and its path: strands, masks, layers however deep, the cloth. */
export function* stepOwners(recipe: Recipe): Generator<StepOwner> {
  for (const [i, { id, from, steps = [] }] of recipe.strands.entries()) {
    const path = `strands[${i}]`;
    const where = { sourcePath: `${path}.from`, stepsPath: `${path}.steps` };
    yield { kind: 'strand', path, id, source: from, steps, visible: true, masks: named(steps), ...where };
    yield* inSource(from, `${path}.from`, true, path);
    yield* inSteps(steps, `${path}.steps`, true, path);
  }
  for (const [i, mask] of (recipe.masks ?? []).entries()) yield* inMask(mask, `masks[${i}]`, true);
  if (!recipe.cloth) return;
  const { layers, steps = [] } = recipe.cloth;
  yield* inLayers(layers, 'cloth.layers', true, 'cloth');
  const where = { sourcePath: 'cloth.layers', stepsPath: 'cloth.steps' };
  yield { kind: 'cloth', path: 'cloth', steps, visible: true, masks: named(steps), ...where };
  yield* inSteps(steps, 'cloth.steps', true, 'cloth');
}

/** Names that a formula reads; one that cannot be read yet reads none. */
function readBy(formula: string): string[] {
  try {
    return namesRead(formula);
  } catch (error) {
    if (error instanceof UserError) return [];
    throw error;
  }
}

/** Name of the stack that a source is; undefined where it is made of something else. */
export const stackOf = (source: Source | Mask['of']): string | undefined =>
  'stack' in source ? source.stack : undefined;

/** Ids of the strands that a source reads by itself, each once, first ones first; its layers are owners of their own. */
export function strandsReadBySource(source: Source | Mask['of']): string[] {
  if ('strand' in source) return [source.strand];
  if ('average' in source) return [...new Set(source.average)];
  if ('mix' in source) return [...new Set(Object.values(source.mix).flatMap((column) => Object.keys(column ?? {})))];
  if ('formula' in source) return readBy(source.formula);
  if ('starMask' in source) return [source.starMask];
  return [];
}

/** Ids of the strands that a step reads besides its input; none where its parameters are at fault. */
export function strandsReadByStep(step: Step): string[] {
  const known = STEP_SPECS.get(step.do);
  const parsed = known?.params.safeParse(ownParams(step));
  return known?.strandsRead && parsed?.success ? known.strandsRead(parsed.data) : [];
}

/** Ids of the strands that an owner reads: by its source, by its steps. */
export const strandDependencies = ({ source, steps }: StepOwner): string[] => [
  ...new Set([...(source ? strandsReadBySource(source) : []), ...steps.flatMap(strandsReadByStep)]),
];

/** The strands, with their paths. */
export const strandOwners = (recipe: Recipe): StepOwner[] =>
  [...stepOwners(recipe)].filter(({ kind }) => kind === 'strand');

/** The list of layers that a place stands in, however deep: the room that one is in. Whatever is no layer's is in the cloth's own. */
export const layerListOf = (path: string): string => /^(.*\blayers)\[\d+\]/.exec(path)?.[1] ?? 'cloth.layers';

/** The layers of a room, from the bottom up. */
export const layersOfList = (recipe: Recipe, room: string): StepOwner[] =>
  [...stepOwners(recipe)].filter(({ kind, path }) => kind === 'layer' && layerListOf(path) === room);

/** What a room is the inside of: a layer, a strand or a mask; undefined for the cloth itself. */
export function layerListParent(recipe: Recipe, room: string): StepOwner | undefined {
  const path = room.replace(/\.(of|from)\.layers$/, '');
  return path === room ? undefined : [...stepOwners(recipe)].find((owner) => owner.path === path);
}

/** The shared masks, with their paths. */
export const maskOwners = (recipe: Recipe): StepOwner[] =>
  [...stepOwners(recipe)].filter(({ kind, within }) => kind === 'mask' && within === undefined);

/** The layers and steps that are seen through a shared mask, by their paths. */
export function pathsUsingMask(recipe: Recipe, id: string): string[] {
  return [...stepOwners(recipe)].flatMap(({ path, masks, steps, stepsPath }) => {
    if (!masks.includes(id)) return [];
    const through = steps.flatMap(({ mask }, i) => (mask === id ? [`${stepsPath}[${i}]`] : []));
    // What is left over is the owner's own.
    return masks.filter((name) => name === id).length > through.length ? [path, ...through] : through;
  });
}

/** Path of the strand of an id; undefined where there is none. */
export const strandPath = (recipe: Recipe, id: string): string | undefined =>
  strandOwners(recipe).find((owner) => owner.id === id)?.path;

/** Whether a path lies in another, or is it. */
export const isPathInside = (path: string, owner: string): boolean =>
  path === owner || path.startsWith(`${owner}.`) || path.startsWith(`${owner}[`);

/** What a path belongs to: the innermost of all that hold it; a state of the cloth on its way belongs to the layer that ends it. */
export function stepOwnerAt(recipe: Recipe, path: string): StepOwner | undefined {
  const place = path.replace(/@cloth$/, '');
  return [...stepOwners(recipe)]
    .filter((owner) => isPathInside(place, owner.path))
    .reduce<StepOwner | undefined>(
      (best, owner) => (best && best.path.length >= owner.path.length ? best : owner),
      undefined,
    );
}

/** What reads a strand: strands, masks, layers and the cloth, each by its source, a step or a mask of its own; itself left out. */
export const strandDependents = (recipe: Recipe, id: string): StepOwner[] =>
  [...stepOwners(recipe)].filter(
    (owner) => !(owner.kind === 'strand' && owner.id === id) && strandDependencies(owner).includes(id),
  );

/** Ids of the strands that are made of a strand, by whatever way, itself among them: none of them can be a part of it. */
export function transitiveDependents(recipe: Recipe, id: string): ReadonlySet<string> {
  const found = new Set<string>();
  const masks = new Map(maskOwners(recipe).map((owner) => [owner.id ?? '', owner]));
  const visit = (strand: string): void => {
    if (found.has(strand)) return;
    found.add(strand);
    for (const { path, id: other } of strandOwners(recipe)) {
      if (other === undefined || found.has(other)) continue;
      const inside = [...stepOwners(recipe)].filter((owner) => isPathInside(owner.path, path));
      const through = inside.flatMap((owner) => owner.masks.flatMap((name) => masks.get(name) ?? []));
      if ([...inside, ...through].some((owner) => strandDependencies(owner).includes(strand))) visit(other);
    }
  };
  visit(id);
  return found;
}

/** Ids of the strands that the visible cloth is made of, those behind other strands too. */
export function strandsInUse(recipe: Recipe): ReadonlySet<string> {
  const owners = [...stepOwners(recipe)].filter(({ visible }) => visible);
  const places = new Map(recipe.strands.map(({ id }, i) => [id, `strands[${i}]`]));
  const masks = new Map((recipe.masks ?? []).map(({ id }, i) => [id, `masks[${i}]`]));
  const used = new Set<string>();
  const seen = new Set<string>();
  const visit = (place: string): void => {
    if (seen.has(place)) return;
    seen.add(place);
    for (const owner of owners.filter(({ path }) => isPathInside(path, place))) {
      for (const id of strandDependencies(owner)) {
        const strand = places.get(id);
        if (strand === undefined) continue;
        used.add(id);
        visit(strand);
      }
      for (const id of owner.masks) {
        const mask = masks.get(id);
        if (mask !== undefined) visit(mask);
      }
    }
  };
  visit('cloth');
  return used;
}
