import { UserError } from '@owl-loom/base/errors';
import { parseRecipe } from '../parse';
import type { Palette } from './palette';

export const PALETTE_FORMAT = 'owl-loom-palette';
export const PALETTE_VERSION = 1;

/** Letters of a name and of what a palette says of itself, at most. */
const MOST = { name: 200, says: 500 } as const;

/** A palette as a file: JSON with the recipe in which filters stand in place of stacks. */
export const paletteFile = ({ name, says, recipe }: Palette): string =>
  `${JSON.stringify({ format: PALETTE_FORMAT, version: PALETTE_VERSION, name, says, recipe }, null, 2)}\n`;

/**
 * A palette that came as a file.
 * @param data parsed JSON
 * @throws UserError where it is none, or its recipe has a fault
 */
export function parsePalette(data: unknown): Palette {
  const { format, version, name, says, recipe } = (data ?? {}) as Record<string, unknown>;
  if (format !== PALETTE_FORMAT)
    throw new UserError('not-palette', 'This is not an Owl Loom palette. Choose a palette file.');
  if (version !== PALETTE_VERSION)
    throw new UserError(
      'newer-palette',
      'This palette was made by another version of Owl Loom. Save it again with this one.',
    );
  if (typeof name !== 'string' || name.trim() === '' || name.length > MOST.name)
    throw new UserError('bad-palette', 'This palette has no valid name. Add one in its file.');
  if (says !== undefined && (typeof says !== 'string' || says.length > MOST.says))
    throw new UserError('bad-palette', 'The description of this palette is not valid. Correct it in its file.');
  return { name: name.trim(), says: says?.trim() ?? '', recipe: parseRecipe(recipe) };
}
