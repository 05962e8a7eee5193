import { UserError } from '@owl-loom/base/errors';
import { maskAt, stepsAt, setAtPath } from '../paths';
import { uniqueId } from '../unique-id';
import { type RecipeMapper, mapLayer, mapMask, mapSteps } from '../map-recipe';
import type { Recipe, Source } from '../schema';
import {
  isPathInside,
  maskOwners,
  type StepOwner,
  stepOwnerAt,
  stepOwners,
  stackOf,
  strandDependencies,
} from '../walk';
import type { Pattern } from './schema';

/** Pinned measurements are of one picture. */
const STRIP_PINNED: RecipeMapper = { steps: (steps) => steps.map(({ hold: _, ...step }) => step) };

/** What lies in any of some places. */
const within = (recipe: Recipe, places: readonly string[]): StepOwner[] =>
  [...stepOwners(recipe)].filter(({ path }) => places.some((place) => isPathInside(path, place)));

/** An owner of which the steps alone are meant, without what it is made of or seen through itself. */
const stepsAlone = (owner: StepOwner): StepOwner => ({
  ...owner,
  source: undefined,
  masks: owner.steps.flatMap(({ mask }) => (typeof mask === 'string' ? [mask] : [])),
});

/** What is meant of a recipe, and whatever it holds. */
function selectedOwners(recipe: Recipe, kind: Pattern['kind'], owner: StepOwner): StepOwner[] {
  if (kind === 'mask') return within(recipe, [owner.path]);
  if (kind === 'steps') return [stepsAlone(owner), ...within(recipe, [owner.stepsPath])];
  return within(
    recipe,
    (recipe.cloth?.layers ?? []).map((_, i) => `cloth.layers[${i}]`),
  );
}

/**
 * What is taken from a recipe for other ones: the steps of what is chosen, a mask, or all layers of the cloth. Measurements that were pinned are
 * let go; the strands that it reads become roles, told by their filters.
 * @param path of the strand, layer or cloth whose steps are meant, or of the mask
 * @param filterOf the filter of a stack
 * @throws UserError where there is nothing to take
 */
export function extractPattern(
  recipe: Recipe,
  kind: Pattern['kind'],
  path: string,
  filterOf: (stack: string) => string | null | undefined,
): Pattern {
  const owner = stepOwnerAt(recipe, path);
  const nothing = new UserError(
    'empty-pattern',
    'There is nothing here to keep as a pattern yet; add a step or a layer first.',
  );
  if (!owner) throw nothing;
  const { layers = [] } = recipe.cloth ?? {};
  const own = selectedOwners(recipe, kind, owner);
  const names = new Set(own.flatMap(({ masks }) => masks));
  const shared = maskOwners(recipe).filter(({ id }) => id !== undefined && names.has(id));
  const owners = [
    ...own,
    ...within(
      recipe,
      shared.map(({ path }) => path),
    ),
  ];
  const roles = [...new Set(owners.flatMap(strandDependencies))].map((id) => {
    const from = recipe.strands.find((strand) => strand.id === id)?.from;
    const stack = from && stackOf(from);
    return { id, filter: (stack !== undefined && filterOf(stack)) || null };
  });
  const masks = (recipe.masks ?? [])
    .filter(({ id }) => names.has(id))
    .map((mask) => ({ ...mapMask(mask, STRIP_PINNED), id: mask.id }));
  const common = { kind, roles, ...(masks.length > 0 && { masks }) };
  switch (kind) {
    case 'steps': {
      if (owner.steps.length === 0) throw nothing;
      return { ...common, steps: mapSteps(owner.steps, STRIP_PINNED) };
    }
    case 'mask': {
      if (owner.kind !== 'mask') throw nothing;
      const mask = maskAt(recipe, owner.path);
      if (!mask) throw nothing;
      const own = { ...mapMask(mask, STRIP_PINNED), id: mask.id ?? 'mask' };
      return { ...common, masks: [...masks.filter(({ id }) => id !== own.id), own] };
    }
    case 'layers':
      if (layers.length === 0) throw nothing;
      return { ...common, layers: layers.map((layer) => mapLayer(layer, STRIP_PINNED)) };
  }
}

/** Who can play the roles of a pattern: strands of a recipe, by id, or stacks of its target, by name. */
export type RoleAssignment = Readonly<
  Record<string, { readonly strand: string } | { readonly stack: string } | undefined>
>;

/**
 * Who plays each role, as far as it can be told: the strand of that name, else one of that filter, else a stack of it.
 * @param stacks of the target, with their filters
 */
export function assignRoles(
  { roles }: Pattern,
  recipe: Recipe,
  stacks: readonly { readonly name: string; readonly filter: string | null }[],
): RoleAssignment {
  const filterOf = (name: string) => stacks.find((stack) => stack.name === name)?.filter;
  const filters = new Map(
    recipe.strands.map(({ id, from }) => [
      id,
      stackOf(from) === undefined ? null : (filterOf(stackOf(from) ?? '') ?? null),
    ]),
  );
  return Object.fromEntries(
    roles.map(({ id, filter }) => {
      const known = filters.get(id);
      // A strand of the same name through another filter is another thing.
      const same = known !== undefined && (filter === null || known === filter) ? id : undefined;
      const alike = filter === null ? undefined : [...filters].find(([, own]) => own === filter)?.[0];
      const stack = filter === null ? undefined : stacks.find((one) => one.filter === filter)?.name;
      const strand = same ?? alike;
      return [id, strand !== undefined ? { strand } : stack !== undefined ? { stack } : undefined];
    }),
  );
}

/**
 * A recipe with a pattern threaded in: steps at the end of a list, a mask among the shared ones, layers on top of the cloth. Roles that are
 * played by something of another name stand in the recipe as strands of their own, so that each can be changed for another later.
 * @param place path of what the steps are for; of layers and masks nothing is asked
 * @throws UserError where a role is not cast, or its name is taken by another strand
 */
export function applyPattern(recipe: Recipe, pattern: Pattern, cast: RoleAssignment, place = 'cloth'): Recipe {
  const added: Recipe['strands'] = [];
  for (const { id } of pattern.roles) {
    const player = cast[id];
    if (!player) throw new UserError('role-uncast', `No strand or stack assigned to ${id}. Choose one.`);
    if ('strand' in player && player.strand === id) continue;
    if (recipe.strands.some((strand) => strand.id === id))
      throw new UserError(
        'role-taken',
        `This recipe has a strand called ${id} already, which is to play another part; give that strand another name first, or let it play ${id}.`,
      );
    const from: Source = 'strand' in player ? { strand: player.strand } : { stack: player.stack };
    added.push({ id, from, steps: [] });
  }
  const taken = (recipe.masks ?? []).map(({ id }) => id);
  const names = new Map<string, string>();
  const masks = (pattern.masks ?? []).map((mask) => {
    const id = uniqueId(mask.id, taken);
    taken.push(id);
    names.set(mask.id, id);
    return { ...mask, id };
  });
  const renamed: RecipeMapper = {
    layer: (layer) =>
      typeof layer.mask === 'string' ? { ...layer, mask: names.get(layer.mask) ?? layer.mask } : layer,
    steps: (steps) =>
      steps.map((step) =>
        typeof step.mask === 'string' ? { ...step, mask: names.get(step.mask) ?? step.mask } : step,
      ),
  };
  const next: Recipe = {
    ...recipe,
    strands: [...recipe.strands, ...added],
    ...(masks.length > 0 && {
      masks: [...(recipe.masks ?? []), ...masks.map((mask) => ({ ...mapMask(mask, renamed), id: mask.id }))],
    }),
  };
  if (pattern.kind === 'layers') {
    const below = recipe.cloth?.layers ?? [];
    const ids = below.map(({ id }) => id);
    const layers = (pattern.layers ?? []).map((layer) => {
      const made = mapLayer(layer, renamed);
      if (made.id === undefined) return made;
      const id = uniqueId(made.id, ids);
      ids.push(id);
      return { ...made, id };
    });
    return { ...next, cloth: { ...recipe.cloth, layers: [...below, ...layers] } };
  }
  if (pattern.kind === 'mask') return next;
  const owner = stepOwnerAt(next, place);
  if (!owner)
    throw new UserError(
      'no-place',
      'There is nothing here that steps could be threaded onto; choose a strand, a layer or the cloth.',
    );
  const steps = [...stepsAt(next, owner.stepsPath), ...mapSteps(pattern.steps ?? [], renamed)];
  return setAtPath(next, owner.stepsPath, steps);
}
