import { publishedSchema } from '../core/recipe/published';

process.stdout.write(`${JSON.stringify(publishedSchema(), null, 1)}\n`);
