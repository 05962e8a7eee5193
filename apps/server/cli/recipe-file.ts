import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { UserError } from '@owl-loom/base/errors';
import { parseRecipeText } from '@owl-loom/recipe/parse';
import type { Recipe } from '@owl-loom/recipe/schema';

/** Reads and checks a recipe's file. */
export async function readRecipe(path: string): Promise<Recipe> {
  const text = await readFile(path, 'utf8').catch((error: NodeJS.ErrnoException) => {
    throw new UserError(
      'no-file',
      error.code === 'ENOENT'
        ? `There is no recipe ${path}; check the path.`
        : `${path} cannot be read (${error.code}).`,
    );
  });
  return parseRecipeText(text, basename(path));
}
