import type { Recipe, Strand } from '../../../core/recipe/schema';
import type { StackRow } from '../store/api';

/** A way to begin: a recipe woven from the stacks that are there. */
export interface Start {
  readonly name: string;
  readonly says: string;
  readonly recipe: Recipe;
}

const base = (name: string): Pick<Recipe, 'format' | 'version' | 'name'> => ({
  format: 'owl-loom-recipe',
  version: 1,
  name,
});

/** Recipes to begin with, by which filters there are; the strongest line is what the others are fitted to. */
export function startsFor(stacks: readonly StackRow[]): Start[] {
  const of = (filter: string) => stacks.find((stack) => stack.filter === filter && stack.planes === 1);
  const [ha, oiii, sii] = [of('Ha'), of('OIII'), of('SII')];
  const [r, g, b] = [of('R'), of('G'), of('B')];
  const plain = (row: StackRow): Strand => ({ id: row.name, from: { stack: row.name }, steps: [] });
  const fitted = (row: StackRow, to: StackRow): Strand => ({
    ...plain(row),
    steps: [{ do: 'linear-fit', to: to.name }],
  });
  const starts: Start[] = [];
  /** Lines under the column each, fitted to the strongest. */
  const ofLines = (name: string, strands: readonly Strand[], [red, green, blue]: readonly StackRow[]): Recipe => ({
    ...base(name),
    strands: [...strands],
    cloth: {
      layers: [
        {
          id: 'base',
          of: {
            mix: { red: { [red.name]: 1 }, green: { [green.name]: 1 }, blue: { [blue.name]: 1 } },
            weights: 'share',
          },
          steps: [{ do: 'stretch' }],
        },
      ],
    },
  });
  if (ha && oiii && sii) {
    starts.push({
      name: 'Three lines',
      says: 'sulfur in red, hydrogen in green, oxygen in blue',
      recipe: ofLines('Three lines', [plain(ha), fitted(oiii, ha), fitted(sii, ha)], [sii, ha, oiii]),
    });
  }
  if (ha && oiii) {
    starts.push({
      name: 'Two lines',
      says: 'hydrogen in red, oxygen in green and blue',
      recipe: ofLines('Two lines', [plain(ha), fitted(oiii, ha)], [ha, oiii, oiii]),
    });
  }
  if (r && g && b) {
    starts.push({
      name: 'Daylight colours',
      says: 'red, green and blue as they are',
      recipe: {
        ...base('Daylight colours'),
        strands: [
          plain(r),
          plain(g),
          plain(b),
          {
            id: 'RGB',
            from: { mix: { red: { [r.name]: 1 }, green: { [g.name]: 1 }, blue: { [b.name]: 1 } }, weights: 'as-is' },
            steps: [{ do: 'level-sky' }],
          },
        ],
        cloth: { layers: [{ id: 'daylight', of: { strand: 'RGB' }, steps: [{ do: 'stretch', colour: 'hue' }] }] },
      },
    });
  }
  const [first] = stacks;
  if (first) {
    starts.push({
      name: 'One strand',
      says: `${first.name} alone; add the rest by hand`,
      recipe: {
        ...base('Untitled'),
        strands: [plain(first)],
        cloth: { layers: [{ id: 'base', of: { strand: first.name }, steps: [{ do: 'stretch' }] }] },
      },
    });
  }
  return starts;
}
