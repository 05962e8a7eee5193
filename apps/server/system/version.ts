import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { HOME } from './home';

/** Which Owl Loom this is. */
export const VERSION: string = (JSON.parse(readFileSync(join(HOME, 'package.json'), 'utf8')) as { version: string })
  .version;
