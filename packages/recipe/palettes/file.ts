import { UserError } from '#base/errors';
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
    throw new UserError('not-palette', 'This is no palette of Owl Loom; give a file that a palette was saved as.');
  if (version !== PALETTE_VERSION)
    throw new UserError('newer-palette', 'This palette is of another version of Owl Loom; save it anew with this one.');
  if (typeof name !== 'string' || name.trim() === '' || name.length > MOST.name)
    throw new UserError('bad-palette', 'This palette has no name that can be read; give it one in its file.');
  if (says !== undefined && (typeof says !== 'string' || says.length > MOST.says))
    throw new UserError('bad-palette', 'What this palette says of itself cannot be read; mend it in its file.');
  return { name: name.trim(), says: says?.trim() ?? '', recipe: parseRecipe(recipe) };
}
