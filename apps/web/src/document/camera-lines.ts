import { uniqueId } from '@owl-loom/recipe/unique-id';
import { stepLocation, strandAt } from '@owl-loom/recipe/paths';
import type { Recipe, Step, Strand } from '@owl-loom/recipe/schema';
import { stepOwnerAt } from '@owl-loom/recipe/walk';

/** The lights that `unmix` gives, by their plane. */
const LIGHTS = [
  ['Ha', 'red'],
  ['OIII', 'green'],
] as const;

const named = (id: string): string => (/^[A-Za-z_][A-Za-z0-9_]*$/.test(id) ? id : `"${id}"`);

/**
 * Strands made of what a step `unmix` gives: one for each line under its own name, the camera's colour as it was before, and the sum of its
 * three planes, in which there is most light. The strand with the step stays as it is.
 * @param path of the step
 * @returns the recipe and the ids of the lines; undefined where the step stands in no strand
 */
export function withCameraLines(recipe: Recipe, path: string): { recipe: Recipe; lines: string[] } | undefined {
  const place = stepLocation(path);
  const owner = stepOwnerAt(recipe, path);
  if (!place || owner?.kind !== 'strand' || owner.id === undefined) return undefined;
  const strand = strandAt(recipe, owner.path);
  if (!strand) return undefined;
  const taken = recipe.strands.map(({ id }) => id);
  const own = (wanted: string): string => {
    const id = uniqueId(wanted, taken);
    taken.push(id);
    return id;
  };
  const plain = (id: string, from: Strand['from'], steps: readonly Step[] = []): Strand => ({
    id,
    from,
    steps: [...steps],
  });
  const lines = LIGHTS.map(([line, plane]) => plain(own(line), { formula: `${named(strand.id)}.${plane}` }));
  const camera = plain(own('camera'), strand.from, (strand.steps ?? []).slice(0, place.index));
  const of = named(camera.id);
  const sum = plain(own('sum'), { formula: `(${of}.red + ${of}.green + ${of}.blue) / 3` });
  return {
    recipe: { ...recipe, strands: [...recipe.strands, ...lines, camera, sum] },
    lines: lines.map(({ id }) => id),
  };
}

/** A recipe that parts the two lines of a colour camera's stack and lays them into a tie-up. */
export function twoLinesFromCamera(stack: string): Recipe {
  const base: Recipe = {
    format: 'owl-loom-recipe',
    version: 1,
    name: 'HOO',
    strands: [{ id: stack, from: { stack }, steps: [{ do: 'unmix' }] }],
  };
  const made = withCameraLines(base, 'strands[0].steps[0]');
  if (!made) throw new Error('a strand was made without its step');
  const [ha, oiii] = made.lines;
  const strands = made.recipe.strands.map((strand) =>
    strand.id === oiii ? { ...strand, steps: [{ do: 'linear-fit', to: ha }] } : strand,
  );
  return {
    ...made.recipe,
    strands,
    cloth: {
      layers: [
        {
          id: 'base',
          of: { mix: { red: { [ha]: 1 }, green: { [oiii]: 1 }, blue: { [oiii]: 1 } }, weights: 'share' },
          steps: [{ do: 'level-sky' }, { do: 'stretch', target: 0.13 }],
        },
      ],
    },
  };
}

/** A recipe of a colour camera's stack in daylight colours, the mean star white. */
export const daylightFromCamera = (stack: string): Recipe => ({
  format: 'owl-loom-recipe',
  version: 1,
  name: 'RGB',
  strands: [{ id: stack, from: { stack }, steps: [{ do: 'calibrate' }] }],
  cloth: {
    layers: [{ id: 'daylight', of: { strand: stack }, steps: [{ do: 'level-sky' }, { do: 'stretch', target: 0.13 }] }],
  },
});
