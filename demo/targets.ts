import { LANTERN_MOTH } from './lantern-moth';
import { MOTH_IN_COLOUR } from './moth-in-colour';
import type { DemoTarget } from './target';
import { TEASEL } from './teasel';

/** Every demo target, the one to open first last. */
export const DEMO_TARGETS: readonly DemoTarget[] = [MOTH_IN_COLOUR, TEASEL, LANTERN_MOTH];
