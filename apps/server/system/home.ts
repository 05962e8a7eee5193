import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The project's root: given by the command, else three folders above this file. */
export const HOME = process.env.LOOM_HOME ?? fileURLToPath(new URL('../../..', import.meta.url));

/** Where all data live; tests give themselves another place. */
export const dataDir = (): string => process.env.LOOM_DATA ?? join(HOME, 'var');
