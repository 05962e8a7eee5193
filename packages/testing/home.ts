import { fileURLToPath } from 'node:url';

/** Folder of the whole project, with a slash at its end. */
export const HOME = fileURLToPath(new URL('../..', import.meta.url));
