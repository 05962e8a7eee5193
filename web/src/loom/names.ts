import type { Layer, Recipe, Source } from '../../../core/recipe/schema';

/** Step kinds as people read them, with what each does in a line. */
export const STEPS: readonly { kind: string; name: string; says: string; takes: 'any' | 'mono' | 'colour' }[] = [
  { kind: 'align', name: 'align', says: 'Lays this onto the pixels of another strand.', takes: 'any' },
  { kind: 'gradient', name: 'gradient', says: 'Takes uneven sky out, and leaves the nebula.', takes: 'any' },
  { kind: 'continuum', name: 'continuum', says: 'Takes starlight out of a line filter.', takes: 'mono' },
  { kind: 'calibrate', name: 'calibrate', says: 'Balances colour on the stars.', takes: 'colour' },
  { kind: 'unmix', name: 'unmix', says: 'Parts the two lines that a dual-band filter passes.', takes: 'colour' },
  { kind: 'denoise', name: 'denoise', says: 'Quiets the noise, brightness and colour apart.', takes: 'any' },
  {
    kind: 'match-seeing',
    name: 'match seeing',
    says: 'Softens this to the star width of another strand.',
    takes: 'any',
  },
  { kind: 'linear-fit', name: 'linear fit', says: 'Brings this to the brightness of another strand.', takes: 'any' },
  { kind: 'level-sky', name: 'level sky', says: 'Shifts the sky of each plane to one level.', takes: 'any' },
  { kind: 'scale', name: 'scale', says: 'Multiplies, then adds.', takes: 'any' },
  { kind: 'crop', name: 'crop', says: 'Keeps data only inside a rectangle.', takes: 'any' },
  { kind: 'place', name: 'place', says: 'Turns, flips, sizes or moves by hand.', takes: 'any' },
  { kind: 'blur', name: 'blur', says: 'Softens by a Gaussian.', takes: 'any' },
  { kind: 'structures', name: 'structures', says: 'Keeps structures of some sizes and no others.', takes: 'any' },
  { kind: 'split', name: 'split', says: 'Keeps what is finer, or coarser, than a size.', takes: 'any' },
  { kind: 'stretch', name: 'stretch', says: 'From linear to display, so that faint things show.', takes: 'any' },
  { kind: 'levels', name: 'levels', says: 'Sets black, middle and white of a stretched image.', takes: 'any' },
  { kind: 'tint', name: 'tint', says: 'Gives a mono image one colour.', takes: 'mono' },
];

export const stepName = (kind: string): string =>
  STEPS.find((step) => step.kind === kind)?.name ?? kind.replaceAll('-', ' ');

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

/** Which image a path belongs to, as people call it. */
export function placeName(recipe: Recipe, path: string): string {
  const strand = /^strands\[(\d+)\]/.exec(path);
  if (strand) return recipe.strands[Number(strand[1])]?.id ?? '';
  const layer = /^cloth\.layers\[(\d+)\](@cloth)?/.exec(path);
  if (layer) {
    const index = Number(layer[1]);
    const found = recipe.cloth?.layers[index];
    if (!found) return '';
    return layer[2] && index > 0 ? `Cloth up to ${layerName(found, index)}` : layerName(found, index);
  }
  return 'Cloth';
}
