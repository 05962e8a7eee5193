import type { z } from 'zod';
import { UserError } from '@owl-loom/base/errors';
import { firstIssue, exceedsDepth, quote } from '@owl-loom/base/validation-errors';
import { checkBytes, checkSize } from './limits';
import { FORMAT, type Recipe, VERSION, recipeSchema } from './schema';

/** How deep groups of layers may lie in each other. */
export const MOST_DEEP = 16;
/** Lists and objects within each other that the deepest recipe has: three a group, and what stands in a layer. */
const NESTED = 3 * MOST_DEEP + 60;

/** @throws UserError where groups lie too deep in each other */
function checkDepth(data: unknown): void {
  const error = (path?: string) =>
    new UserError('recipe-deep', `Small cloths nest at most ${MOST_DEEP} deep. Move this one out.`, path);
  if (exceedsDepth(data, NESTED)) throw error();
  const visit = (layers: unknown, path: string, depth: number): void => {
    if (!Array.isArray(layers)) return;
    for (const [i, layer] of layers.entries()) {
      const inner = (layer as { of?: { layers?: unknown } } | null)?.of?.layers;
      if (inner === undefined) continue;
      const own = `${path}[${i}]`;
      if (depth === MOST_DEEP) throw error(own);
      visit(inner, `${own}.of.layers`, depth + 1);
    }
  };
  visit((data as { cloth?: { layers?: unknown } } | null)?.cloth?.layers, 'cloth.layers', 0);
}

/**
 * The first fault of a check as a sentence with its path.
 * @param data what was checked
 * @param within path of what was checked, where that is a part of a recipe
 */
export function issueToUserError(error: z.ZodError, data: unknown, within = ''): UserError {
  const { says, path } = firstIssue(error, data);
  const place = within && path && !path.startsWith('[') ? `${within}.${path}` : `${within}${path}`;
  return new UserError('recipe-invalid', says, place || undefined);
}

/**
 * Checks a recipe's form. What it names (strands, stacks, loops) is checked when its graph is built.
 * @param data parsed JSON
 * @throws UserError with the path of the first fault
 */
export function parseRecipe(data: unknown): Recipe {
  if (typeof data === 'object' && data !== null) {
    const { format, version } = data as { format?: unknown; version?: unknown };
    if (format !== FORMAT)
      throw new UserError('recipe-format', `This is not an Owl Loom recipe: its format must be "${FORMAT}".`, 'format');
    if (version !== VERSION) {
      throw new UserError(
        'recipe-version',
        `Unknown version ${quote(version)}: this Owl Loom reads version ${VERSION}. Update Owl Loom, or save the recipe in that version.`,
        'version',
      );
    }
  }
  checkDepth(data);
  checkSize(data);
  const result = recipeSchema.safeParse(data);
  if (result.success) return data as Recipe;
  throw issueToUserError(result.error, data);
}

/** Reads a recipe from JSON text. */
export function parseRecipeText(text: string, name: string): Recipe {
  checkBytes(text.length);
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (error) {
    throw new UserError(
      'recipe-json',
      `${name} is not valid JSON (${error instanceof Error ? error.message : error}). Correct it and try again.`,
    );
  }
  return parseRecipe(data);
}
