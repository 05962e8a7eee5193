import { z } from 'zod';
import { recipeSchema } from './schema';

/** The recipe's form as a JSON Schema, for editors and other programs; kept in `docs/recipe.schema.json`. */
export function recipeJsonSchema(): unknown {
  return {
    ...z.toJSONSchema(recipeSchema, { io: 'input', unrepresentable: 'any', reused: 'inline' }),
    title: 'Owl Loom recipe, version 1',
  };
}
