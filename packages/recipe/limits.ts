import { z } from 'zod';
import { UserError } from '@owl-loom/base/errors';

/** What a recipe may have at most. The largest that people have made holds a tenth of it. */
export const LIMITS = {
  /** Steps in one list, and in all lists together. */
  steps: 200,
  allSteps: 2000,
  strands: 200,
  /** Layers in one list, and in all lists together. */
  layers: 500,
  allLayers: 2000,
  masks: 500,
  /** Shapes painted on one mask, and points of one shape or stroke. */
  shapes: 10_000,
  points: 20_000,
  /** Entries of any other list, and of a table of weights. */
  entries: 1000,
  /** Bytes of its JSON. */
  bytes: 4 * 2 ** 20,
} as const;

/** The lists that have a limit of their own, by their key, and what to do about one that is longer. */
const LISTS: Readonly<Record<string, readonly [most: number, of: string, advice: string]>> = {
  steps: [LIMITS.steps, 'steps', 'put some of them into a strand or a group of their own'],
  strands: [LIMITS.strands, 'strands', 'leave out those that nothing reads'],
  layers: [LIMITS.layers, 'layers', 'put some of them into a recipe of their own'],
  masks: [LIMITS.masks, 'masks', 'leave out those that nothing is seen through'],
  paint: [LIMITS.shapes, 'painted shapes', 'use a mask made of an image for the finest parts'],
  strokes: [LIMITS.shapes, 'strokes', 'divide them over two steps'],
  also: [LIMITS.shapes, 'circles', 'divide them over two steps'],
  spare: [LIMITS.shapes, 'places', 'divide them over two steps'],
  points: [LIMITS.points, 'points', 'divide it into several'],
};

/** The sentence for a list that is too long. */
const says = (key: string): string => {
  const [max, of, advice] = LISTS[key];
  return `a list holds at most ${max} ${of}; ${advice}`;
};

/** A list under a key that has a limit of its own. */
export const limited = <T extends z.ZodType>(key: keyof typeof LISTS & string, of: T): z.ZodArray<T> =>
  z.array(of).max(LISTS[key][0], says(key));

/** Any other list of a recipe. */
export const listed = <T extends z.ZodType>(of: T): z.ZodArray<T> => z.array(of).max(LIMITS.entries);

/**
 * @param bytes of its text, or its letters, which are never more
 * @throws UserError where a recipe's text is longer than any may be
 */
export function checkBytes(bytes: number): void {
  if (bytes > LIMITS.bytes)
    throw new UserError(
      'recipe-large',
      `This recipe has ${(bytes / 2 ** 20).toFixed(1)} MB; the limit is ${LIMITS.bytes / 2 ** 20} MB. Paint with fewer strokes, or use a mask made from an image.`,
    );
}

/**
 * Looks through a recipe as it came for lists that are longer than they may be, before anything else is done with it: what checks its form
 * would take seconds for a hundred thousand steps. It does not climb into itself, however deep the data are.
 * @throws UserError with the path of the first list that is too long
 */
export function checkSize(data: unknown): void {
  const left: { readonly value: object; readonly path: string }[] = [];
  const put = (value: unknown, path: string): void => {
    if (typeof value === 'object' && value !== null) left.push({ value, path });
  };
  let [steps, layers] = [0, 0];
  put(data, '');
  for (let one = left.pop(); one; one = left.pop()) {
    const { value, path } = one;
    if (Array.isArray(value)) {
      // Lists of numbers hold nothing that could be too long in its turn.
      for (const [i, entry] of value.entries()) put(entry, `${path}[${i}]`);
      continue;
    }
    for (const [key, entry] of Object.entries(value)) {
      const at = path ? `${path}.${key}` : key;
      if (Array.isArray(entry) && Object.hasOwn(LISTS, key)) {
        if (entry.length > LISTS[key][0]) throw new UserError('recipe-large', `${says(key)}.`, at);
        if (key === 'steps') steps += entry.length;
        if (key === 'layers') layers += entry.length;
        // Points are by far the most, and hold no lists but numbers.
        if (key === 'points') continue;
      }
      put(entry, at);
    }
  }
  if (steps > LIMITS.allSteps)
    throw new UserError(
      'recipe-large',
      `This recipe has ${steps} steps; the limit is ${LIMITS.allSteps}. Divide it into several recipes.`,
    );
  if (layers > LIMITS.allLayers)
    throw new UserError(
      'recipe-large',
      `This recipe has ${layers} layers; the limit is ${LIMITS.allLayers}. Divide it into several recipes.`,
    );
}
