import { mapLayer } from '@owl-loom/recipe/map-recipe';
import type { Layer, Recipe, Source } from '@owl-loom/recipe/schema';
import { stepOwners, strandDependents } from '@owl-loom/recipe/walk';
import { recipeChanged } from '../store/draft';
import { layerLocation, setAtPath, layersAt, layerAt } from '@owl-loom/recipe/paths';
import { store } from '../store/store';
import { uniqueId } from '@owl-loom/recipe/unique-id';

const current = (): Recipe | null => store.getState().draft.recipe;

/** What a layer can be made of, as people call it. */
export const LAYER_KINDS = [
  { kind: 'strand', label: 'strand', says: 'one strand' },
  { kind: 'mix', label: 'tie-up', says: 'weighted strands to R, G, B' },
  { kind: 'average', label: 'average', says: 'weighted mean of strands' },
  { kind: 'formula', label: 'formula', says: 'a formula over strands' },
  { kind: 'colour', label: 'plain colour', says: 'a uniform colour' },
  { kind: 'layers', label: 'small cloth', says: 'several layers blended as one' },
  { kind: 'below', label: 'cloth below', says: 'everything below, blended again' },
] as const;

export type LayerKind = (typeof LAYER_KINDS)[number]['kind'];

/** A source of a kind to begin with, from the strands that there are. */
export function newSource(kind: Exclude<LayerKind, 'layers'>, ids: readonly string[]): Source {
  const [first = ''] = ids;
  switch (kind) {
    case 'strand':
      return { strand: first };
    case 'mix':
      return { mix: { red: { [first]: 1 }, green: { [first]: 1 }, blue: { [first]: 1 } }, weights: 'share' };
    case 'formula':
      return { formula: first };
    case 'average':
      return { average: ids.slice(0, 2) };
    case 'colour':
      return { colour: '#0d0d0f' };
    case 'below':
      return { below: true };
  }
}

/** Names of layers and of masks written in place that a recipe has already: each must be its own. */
function takenIds(recipe: Recipe): Record<'layer' | 'mask', string[]> {
  const taken = { layer: [] as string[], mask: [] as string[] };
  for (const { kind, id } of stepOwners(recipe))
    if (id !== undefined && (kind === 'layer' || kind === 'mask')) taken[kind].push(id);
  return taken;
}

/** A copy of a layer in which everything that has a name has one of its own. */
function renamed(layer: Layer, taken: Record<'layer' | 'mask', string[]>): Layer {
  const own = <T extends { id?: string }>(kind: 'layer' | 'mask', part: T): T => {
    if (part.id === undefined) return part;
    const id = uniqueId(part.id, taken[kind]);
    taken[kind].push(id);
    return { ...part, id };
  };
  return mapLayer(layer, { layer: (part) => own('layer', part), mask: (part) => own('mask', part) });
}

function put(recipe: Recipe, list: string, layers: readonly Layer[], chosen: string): void {
  store.dispatch(recipeChanged({ recipe: setAtPath(recipe, list, layers), chosen }));
}

/** Ids of the strands, the likeliest for a new layer first: the last one where nothing reads it yet, since it was just added to be used; else one that no layer is made of alone. */
function likeliestFirst(recipe: Recipe): string[] {
  const ids = recipe.strands.map(({ id }) => id);
  const last = ids.at(-1);
  const alone = new Set([...stepOwners(recipe)].map(({ source }) => source && 'strand' in source && source.strand));
  const first =
    last !== undefined && strandDependents(recipe, last).length === 0 ? last : ids.find((id) => !alone.has(id));
  return first === undefined ? ids : [first, ...ids.filter((id) => id !== first)];
}

/** The name that a layer has from what it is made of. */
const nameFor = (of: Source): string => ('strand' in of ? of.strand : 'layers' in of ? 'small cloth' : 'layer');

/** Whether a layer is called after what it is made of, and not by a person. */
function isNamedFor({ id, name, of }: Layer): boolean {
  const own = nameFor(of);
  return (
    name === undefined &&
    id !== undefined &&
    (id === own || (id.startsWith(`${own}-`) && /^-\d+$/.test(id.slice(own.length))))
  );
}

/** A new layer at a place in a room, screened on where something lies below, so that it is seen at once; it is chosen. */
export function addLayer(kind: LayerKind, list: string, index: number): void {
  const recipe = current();
  if (!recipe) return;
  const ids = likeliestFirst(recipe);
  const taken = takenIds(recipe).layer;
  const own = (wanted: string): string => {
    const id = uniqueId(wanted, taken);
    taken.push(id);
    return id;
  };
  const stretched = [{ do: 'stretch' }];
  const inner = (): Layer => ({ id: own('sheet'), of: newSource('mix', ids), steps: stretched });
  // A colour and the cloth below are what they are to be already.
  const steps = ['colour', 'below', 'layers'].includes(kind) ? [] : stretched;
  const of: Source = kind === 'layers' ? { layers: [inner()] } : newSource(kind, ids);
  const id = own(nameFor(of) || 'layer');
  const blend: Layer['blend'] = kind === 'below' ? 'soft-light' : 'screen';
  const layer: Layer = { id, of, steps, ...(index > 0 && { blend, opacity: 0.5 }) };
  put(recipe, list, layersAt(recipe, list).toSpliced(index, 0, layer), `${list}[${index}]`);
}

/** Takes a layer away; the last of a small cloth stays, since there is no cloth without any. */
export function removeLayer(path: string): void {
  const recipe = current();
  const place = layerLocation(path);
  if (!recipe || !place) return;
  const layers = layersAt(recipe, place.list);
  if (layers.length === 1 && place.list !== 'cloth.layers') return;
  const left = layers.toSpliced(place.index, 1);
  const room = place.list === 'cloth.layers' ? 'cloth' : `${place.list}[${Math.max(0, place.index - 1)}]`;
  put(recipe, place.list, left, room);
}

/** Moves a layer to another place of its room, counted from the bottom. */
export function moveLayer(path: string, to: number): void {
  const recipe = current();
  const place = layerLocation(path);
  if (!recipe || !place) return;
  const layers = layersAt(recipe, place.list);
  if (to < 0 || to >= layers.length || to === place.index) return;
  const moved = layers.toSpliced(place.index, 1).toSpliced(to, 0, layers[place.index]);
  put(recipe, place.list, moved, `${place.list}[${to}]`);
}

/** Lays a copy of a layer on top of it. */
export function duplicateLayer(path: string): void {
  const recipe = current();
  const place = layerLocation(path);
  if (!recipe || !place) return;
  const layers = layersAt(recipe, place.list);
  const copy = renamed(structuredClone(layers[place.index]), takenIds(recipe));
  put(recipe, place.list, layers.toSpliced(place.index + 1, 0, copy), `${place.list}[${place.index + 1}]`);
}

/**
 * Puts a layer and the one below it together into a small cloth, which is laid on as the lower one was. Where that is plain, nothing of
 * the picture changes.
 */
export function groupWithBelow(path: string): void {
  const recipe = current();
  const place = layerLocation(path);
  if (!recipe || !place || place.index === 0) return;
  const layers = layersAt(recipe, place.list);
  const { blend, opacity, mask, ...lower } = layers[place.index - 1];
  const together: Layer = {
    id: uniqueId('small cloth', takenIds(recipe).layer),
    of: { layers: [lower, layers[place.index]] },
    ...(blend !== undefined && { blend }),
    ...(opacity !== undefined && { opacity }),
    ...(mask !== undefined && { mask }),
  };
  put(recipe, place.list, layers.toSpliced(place.index - 1, 2, together), `${place.list}[${place.index - 1}]`);
}

/** Why a small cloth cannot be taken apart without another picture coming of it; undefined where it can, or is none. */
export function ungroupBlocker(layer: Layer): string | undefined {
  if (!('layers' in layer.of)) return undefined;
  const own = [
    ...(layer.steps?.some((step) => !step.off) ? ['steps'] : []),
    ...(layer.mask !== undefined ? ['a mask'] : []),
    ...(layer.opacity !== undefined && layer.opacity < 1 ? ['an opacity'] : []),
    ...(layer.blend !== undefined && layer.blend !== 'normal' ? ['a blend'] : []),
  ];
  // One layer takes what the cloth had.
  if (layer.of.layers.length === 1 && own[0] !== 'steps') return undefined;
  return own.length > 0
    ? `It has ${own.join(' and ')}, which apply to all layers inside. Reset them first, then take it apart.`
    : undefined;
}

/** Takes a small cloth apart: its layers lie where it lay. */
export function ungroup(path: string): void {
  const recipe = current();
  const place = layerLocation(path);
  if (!recipe || !place) return;
  const layers = layersAt(recipe, place.list);
  const whole = layers[place.index];
  if (!('layers' in whole.of) || ungroupBlocker(whole) !== undefined) return;
  const { blend, opacity, mask, visible } = whole;
  const laid = { blend, opacity, mask, visible };
  const kept = Object.fromEntries(Object.entries(laid).filter(([, value]) => value !== undefined));
  const { layers: parts } = whole.of;
  const hidden = visible === false ? { visible } : {};
  const apart = parts.length === 1 ? [{ ...parts[0], ...kept }] : parts.map((layer) => ({ ...layer, ...hidden }));
  put(recipe, place.list, layers.toSpliced(place.index, 1, ...apart), `${place.list}[${place.index}]`);
}

/** Makes a layer of something else; into a small cloth goes what it was, with its steps. */
export function changeLayerSource(path: string, kind: LayerKind, strand?: string): void {
  const recipe = current();
  const layer = recipe && layerAt(recipe, path);
  if (!recipe || !layer) return;
  const ids = recipe.strands.map(({ id }) => id);
  if (kind === 'layers') {
    if ('layers' in layer.of) return;
    const { of, steps, ...rest } = layer;
    const inner: Layer = { id: uniqueId('sheet', takenIds(recipe).layer), of, ...(steps && { steps }) };
    store.dispatch(recipeChanged({ recipe: setAtPath(recipe, path, { ...rest, of: { layers: [inner] } }) }));
    return;
  }
  const of: Source = strand === undefined ? newSource(kind, ids) : { strand };
  // A layer that is called after its strand is called after the new one.
  const others = takenIds(recipe).layer.filter((taken) => taken !== layer.id);
  const id = isNamedFor(layer) ? uniqueId(nameFor(of), others) : layer.id;
  store.dispatch(recipeChanged({ recipe: setAtPath(recipe, path, { ...layer, ...(id !== undefined && { id }), of }) }));
}
