import type { Layer, Recipe, Step } from '@owl-loom/recipe/schema';
import { DAYLIGHT, LINES, MOTH_SKY as sky } from './moth-strands';

/** The stars of daylight, laid on last. */
const STARS: Layer = {
  id: 'stars',
  of: { strand: 'RGB' },
  steps: [
    { do: 'stretch', colour: 'hue', target: 0.1 },
    { do: 'stars-only', by: 'screen' },
  ],
  blend: 'screen',
  opacity: 0.85,
};

/** What all of them have: the strands, the stars of daylight on top, levels at the end and perhaps more. */
export function layered(
  name: string,
  layers: readonly Layer[],
  levels: { black: number; mid: number },
  { strands = [], masks, finish = [] }: Pick<Partial<Recipe>, 'strands' | 'masks'> & { finish?: readonly Step[] } = {},
): Recipe {
  return {
    format: 'owl-loom-recipe',
    version: 1,
    name,
    sky,
    strands: [...LINES, ...DAYLIGHT, ...strands],
    ...(masks && { masks }),
    cloth: { layers: [...layers, STARS], steps: [{ do: 'levels', ...levels }, ...finish], extent: 'common' },
  };
}
