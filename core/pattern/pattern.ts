import { UserError } from '../errors';
import { type Remaking, remadeLayer, remadeMask, remadeSteps } from '../recipe/remade';
import type { Recipe, Source } from '../recipe/schema';
import { liesIn, maskOwners, type Owner, ownerAt, ownersOf, stackOf, strandsReadBy } from '../recipe/walk';
import type { Pattern } from './schema';

/** Pinned figures are of one picture. */
const UNPINNED: Remaking = { steps: (steps) => steps.map(({ hold: _, ...step }) => step) };

/** What lies in any of some places. */
const within = (recipe: Recipe, places: readonly string[]): Owner[] =>
  [...ownersOf(recipe)].filter(({ path }) => places.some((place) => liesIn(path, place)));

/** An owner of which the steps alone are meant, without what it is made of or seen through itself. */
const stepsAlone = (owner: Owner): Owner => ({
  ...owner,
  source: undefined,
  masks: owner.steps.flatMap(({ mask }) => (typeof mask === 'string' ? [mask] : [])),
});

/** What is meant of a recipe, and whatever it holds. */
function meant(recipe: Recipe, kind: Pattern['kind'], owner: Owner): Owner[] {
  if (kind === 'mask') return within(recipe, [owner.path]);
  if (kind === 'steps') return [stepsAlone(owner), ...within(recipe, [owner.stepsPath])];
  return within(
    recipe,
    (recipe.cloth?.layers ?? []).map((_, i) => `cloth.layers[${i}]`),
  );
}

/**
 * What is taken from a recipe for other ones: the steps of what is chosen, a mask, or all layers of the cloth. Figures that were pinned are
 * let go; the strands that it reads become roles, told by their filters.
 * @param path of the strand, layer or cloth whose steps are meant, or of the mask
 * @param filterOf the filter of a stack
 * @throws UserError where there is nothing to take
 */
export function patternOf(
  recipe: Recipe,
  kind: Pattern['kind'],
  path: string,
  filterOf: (stack: string) => string | null | undefined,
): Pattern {
  const owner = ownerAt(recipe, path);
  const nothing = new UserError(
    'empty-pattern',
    'There is nothing here to keep as a pattern yet; add a step or a layer first.',
  );
  if (!owner) throw nothing;
  const { layers = [] } = recipe.cloth ?? {};
  const own = meant(recipe, kind, owner);
  const names = new Set(own.flatMap(({ masks }) => masks));
  const shared = maskOwners(recipe).filter(({ id }) => id !== undefined && names.has(id));
  const owners = [
    ...own,
    ...within(
      recipe,
      shared.map(({ path }) => path),
    ),
  ];
  const roles = [...new Set(owners.flatMap(strandsReadBy))].map((id) => {
    const from = recipe.strands.find((strand) => strand.id === id)?.from;
    const stack = from && stackOf(from);
    return { id, filter: (stack !== undefined && filterOf(stack)) || null };
  });
  const masks = (recipe.masks ?? [])
    .filter(({ id }) => names.has(id))
    .map((mask) => ({ ...remadeMask(mask, UNPINNED), id: mask.id }));
  const common = { kind, roles, ...(masks.length > 0 && { masks }) };
  switch (kind) {
    case 'steps': {
      if (owner.steps.length === 0) throw nothing;
      return { ...common, steps: remadeSteps(owner.steps, UNPINNED) };
    }
    case 'mask': {
      if (owner.kind !== 'mask') throw nothing;
      const mask = maskAt(recipe, owner.path);
      if (!mask) throw nothing;
      const own = { ...remadeMask(mask, UNPINNED), id: mask.id ?? 'mask' };
      return { ...common, masks: [...masks.filter(({ id }) => id !== own.id), own] };
    }
    case 'layers':
      if (layers.length === 0) throw nothing;
      return { ...common, layers: layers.map((layer) => remadeLayer(layer, UNPINNED)) };
  }
}

/** A mask by its path, shared or written in place. */
function maskAt(recipe: Recipe, path: string) {
  const shared = maskOwners(recipe).findIndex((owner) => owner.path === path);
  if (shared >= 0) return recipe.masks?.[shared];
  let at: unknown = recipe;
  for (const key of path.split(/[.[\]]+/).filter(Boolean)) at = (at as Record<string, unknown> | undefined)?.[key];
  return at as NonNullable<Recipe['masks']>[number] | undefined;
}

/** Who can play the roles of a pattern: strands of a recipe, by id, or stacks of its target, by name. */
export type Cast = Readonly<Record<string, { readonly strand: string } | { readonly stack: string } | undefined>>;

/**
 * Who plays each role, as far as it can be told: the strand of that name, else one of that filter, else a stack of it.
 * @param stacks of the target, with their filters
 */
export function castFor(
  { roles }: Pattern,
  recipe: Recipe,
  stacks: readonly { readonly name: string; readonly filter: string | null }[],
): Cast {
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

/** A name like the wanted one that none of the others has. */
function freeName(wanted: string, taken: ReadonlySet<string>): string {
  for (let n = 1; ; n++) {
    const name = n === 1 ? wanted : `${wanted}-${n}`;
    if (!taken.has(name)) return name;
  }
}

/**
 * A recipe with a pattern threaded in: steps at the end of a list, a mask among the shared ones, layers on top of the cloth. Roles that are
 * played by something of another name stand in the recipe as strands of their own, so that each can be changed for another later.
 * @param place path of what the steps are for; of layers and masks nothing is asked
 * @throws UserError where a role is not cast, or its name is taken by another strand
 */
export function threaded(recipe: Recipe, pattern: Pattern, cast: Cast, place = 'cloth'): Recipe {
  const added: Recipe['strands'] = [];
  for (const { id } of pattern.roles) {
    const player = cast[id];
    if (!player)
      throw new UserError('role-uncast', `Nothing plays the part of ${id} yet; choose a strand or a stack for it.`);
    if ('strand' in player && player.strand === id) continue;
    if (recipe.strands.some((strand) => strand.id === id))
      throw new UserError(
        'role-taken',
        `This recipe has a strand called ${id} already, which is to play another part; give that strand another name first, or let it play ${id}.`,
      );
    const from: Source = 'strand' in player ? { strand: player.strand } : { stack: player.stack };
    added.push({ id, from, steps: [] });
  }
  const taken = new Set((recipe.masks ?? []).map(({ id }) => id));
  const names = new Map<string, string>();
  const masks = (pattern.masks ?? []).map((mask) => {
    const id = freeName(mask.id, taken);
    taken.add(id);
    names.set(mask.id, id);
    return { ...mask, id };
  });
  const renamed: Remaking = {
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
      masks: [...(recipe.masks ?? []), ...masks.map((mask) => ({ ...remadeMask(mask, renamed), id: mask.id }))],
    }),
  };
  if (pattern.kind === 'layers') {
    const below = recipe.cloth?.layers ?? [];
    const ids = new Set(below.flatMap(({ id }) => (id === undefined ? [] : [id])));
    const layers = (pattern.layers ?? []).map((layer) => {
      const made = remadeLayer(layer, renamed);
      if (made.id === undefined) return made;
      const id = freeName(made.id, ids);
      ids.add(id);
      return { ...made, id };
    });
    return { ...next, cloth: { ...recipe.cloth, layers: [...below, ...layers] } };
  }
  if (pattern.kind === 'mask') return next;
  const owner = ownerAt(next, place);
  if (!owner)
    throw new UserError(
      'no-place',
      'There is nothing here that steps could be threaded onto; choose a strand, a layer or the cloth.',
    );
  return withSteps(next, owner.stepsPath, remadeSteps(pattern.steps ?? [], renamed));
}

/** A recipe with steps at the end of a list. */
function withSteps(recipe: Recipe, list: string, more: readonly unknown[]): Recipe {
  const keys = list.split(/[.[\]]+/).filter(Boolean);
  const put = (at: unknown, [key, ...rest]: readonly string[]): unknown => {
    const own = (Array.isArray(at) ? at[Number(key)] : (at as Record<string, unknown> | undefined)?.[key]) as unknown;
    const made = rest.length === 0 ? [...((own as unknown[] | undefined) ?? []), ...more] : put(own, rest);
    return Array.isArray(at) ? at.with(Number(key), made) : { ...(at as object), [key]: made };
  };
  return put(recipe, keys) as Recipe;
}
