import type { Layer, Recipe } from '@owl-loom/recipe/schema';
import { DEMO_RECIPES } from './recipes';

/** A state of a demo recipe as someone at work would have kept it. */
export interface DemoSwatch {
  /** Name of the recipe whose state it is. */
  readonly of: string;
  readonly name: string;
  readonly note: string;
  readonly body: Recipe;
}

function stateOf(
  folder: string,
  of: string,
  name: string,
  note: string,
  change: (recipe: Recipe) => Recipe,
): DemoSwatch {
  const recipe = DEMO_RECIPES[folder]?.find((one) => one.name === of);
  if (!recipe) throw new Error(`there is no demo recipe ${of}`);
  return { of, name, note, body: change(recipe) };
}

/** The recipe with other numbers in one of its layers. */
const withLayer =
  (id: string, change: Partial<Layer>) =>
  (recipe: Recipe): Recipe => ({
    ...recipe,
    cloth: recipe.cloth && {
      ...recipe.cloth,
      layers: recipe.cloth.layers.map((layer) => (layer.id === id ? { ...layer, ...change } : layer)),
    },
  });

/** The recipe without some of the steps on its finished cloth. */
const without =
  (...kinds: readonly string[]) =>
  (recipe: Recipe): Recipe => ({
    ...recipe,
    cloth: recipe.cloth && { ...recipe.cloth, steps: recipe.cloth.steps?.filter((step) => !kinds.includes(step.do)) },
  });

/** The recipe with some of its layers alone, and none of the steps that calm stars. */
const onlyLayers =
  (...ids: readonly string[]) =>
  (recipe: Recipe): Recipe => {
    const { cloth, ...rest } = without('hue-bands', 'star-shrink')(recipe);
    const layers = cloth?.layers.filter(({ id }) => id !== undefined && ids.includes(id)) ?? [];
    return { ...rest, cloth: cloth && { ...cloth, layers } };
  };

const asItIs = (recipe: Recipe): Recipe => recipe;
const MOTH = 'lantern-moth';

/** States kept of the demo recipes, in the order in which they were kept. */
export const DEMO_SWATCHES: Readonly<Record<string, readonly DemoSwatch[]>> = {
  [MOTH]: [
    stateOf(MOTH, 'Gold from green', 'Before the gold', 'three lines as they come', without('hue-bands', 'saturation')),
    stateOf(MOTH, 'Gold from green', 'Gold from green', 'green turned, cyan deepened', asItIs),
    stateOf(MOTH, 'By its own light', 'Plain lines', 'before anything is laid on', onlyLayers('lines')),
    stateOf(MOTH, 'By its own light', 'Lit once', 'the gas comes forward', onlyLayers('lines', 'lit')),
    stateOf(MOTH, 'By its own light', 'By its own light', 'stars calmed and drawn in', asItIs),
    stateOf(MOTH, 'Copper and teal', 'No glow', 'without the sulfur on top', withLayer('glow', { visible: false })),
    stateOf(
      MOTH,
      'Copper and teal',
      'Glow by add',
      'too hot on the rim',
      withLayer('glow', { blend: 'add', opacity: 0.8 }),
    ),
    stateOf(MOTH, 'Copper and teal', 'Copper and teal', 'calm, for print', asItIs),
  ],
  teasel: [stateOf('teasel', 'Thistle in bloom', 'Thistle in bloom', '', asItIs)],
};
