import { STEP_SPECS } from './index';

/** A parameter of a step as people read it, on sliders and in differences; a key in camel case is parted into its words. */
export const paramLabel = (kind: string, key: string): string =>
  STEP_SPECS.get(kind)?.labels?.[key] ?? key.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`);
