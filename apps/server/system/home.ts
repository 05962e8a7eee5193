import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The project's root: given by the command, else found from this file, which lies deeper in the source than once it is bundled. */
export const HOME =
  process.env.LOOM_HOME ??
  fileURLToPath(new URL(import.meta.url.endsWith('.ts') ? '../../..' : '../..', import.meta.url));

/** Where all data live; tests give themselves another place. */
export const dataDir = (): string => process.env.LOOM_DATA ?? join(HOME, 'var');
