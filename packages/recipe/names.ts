import { STEP_SPECS } from './steps/index';
import type { Layer, Recipe, Source, Step } from './schema';
import { type StepOwner, stepOwnerAt } from './walk';
import { layerLocation, valueAt } from './paths';

export const stepName = (kind: string): string => STEP_SPECS.get(kind)?.name ?? kind.replaceAll('-', ' ');

/** A source in two or three words. */
export function sourceName(source: Source): string {
  if ('stack' in source) return source.plane ? `${source.stack}, ${source.plane}` : source.stack;
  if ('strand' in source) return source.strand;
  if ('mix' in source) return 'tie-up';
  if ('average' in source) return `average of ${source.average.join(', ')}`;
  if ('formula' in source) return 'formula';
  if ('colour' in source) return source.colour;
  return 'layers' in source ? 'layers' : 'cloth below';
}

export const layerName = (layer: Layer, index: number): string => layer.name ?? layer.id ?? `layer ${index + 1}`;

/** An owner as people call it. */
export function ownerName(recipe: Recipe, owner: StepOwner): string {
  if (owner.kind === 'layer') {
    const place = layerLocation(owner.path);
    return layerName(valueAt(recipe, owner.path) as Layer, place?.index ?? 0);
  }
  return owner.kind === 'mask' ? `mask ${owner.id ?? ''}`.trim() : (owner.id ?? 'cloth');
}

/** The step that a path names; undefined where it names something else. */
export function stepAt(recipe: Recipe, path: string): Step | undefined {
  const value = valueAt(recipe, path);
  return value && typeof value === 'object' && 'do' in value ? (value as Step) : undefined;
}

/** An image as people call it, a step's with the step that it comes after. */
export function imageTitle(recipe: Recipe | null, path: string): string {
  if (!recipe) return '';
  const step = stepAt(recipe, path);
  return step ? `${imageName(recipe, path)} after ${stepName(step.do)}` : imageName(recipe, path);
}

/** Which image a path belongs to, as people call it. */
export function imageName(recipe: Recipe, path: string): string {
  const owner = stepOwnerAt(recipe, path);
  if (!owner) return path.startsWith('cloth.layers') ? '' : 'Cloth';
  const name = ownerName(recipe, owner);
  if (owner.kind === 'cloth') return 'Cloth';
  const onTheWay = path.endsWith('@cloth') && (layerLocation(owner.path)?.index ?? 0) > 0;
  return onTheWay ? `Cloth up to ${name}` : name;
}

/** Where a path leads, as people find it: the strand, layer or cloth, and the step there, such as "OIII › linear fit". */
export function stepTitle(recipe: Recipe, path: string): string {
  const step = stepAt(recipe, /^.*steps\[\d+\]/.exec(path)?.[0] ?? path);
  const image = imageName(recipe, path);
  return step ? `${image} › ${stepName(step.do)}` : image;
}

/** A diagnostic of a recipe as one sentence that names strand and step. */
export function located(
  recipe: Recipe,
  { path, message }: { readonly path: string; readonly message: string },
): string {
  const where = stepTitle(recipe, path);
  return where ? `${where}: ${message}` : message;
}

/** A blend mode as people read it: "colour dodge" for `color-dodge`. */
export const blendName = (mode: string): string => mode.replace('color', 'colour').replaceAll('-', ' ');
