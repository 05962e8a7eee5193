import type { Mix, Recipe } from '../../../../core/recipe/schema';
import { stepsAt } from '../../store/paths';
import { strandsInUse, strandsOf } from '../../../../core/recipe/walk';

/** Measures of the draft, in screen pixels. */
export const ROW = 34;
export const TOP = 40;
const BEADS = 104;
const BEAD = 106;
const COLUMN = 46;
const LAYER_WIDTH = 286;
const LAYER_ROW = 40;

export interface BeadPlace {
  readonly path: string;
  readonly x: number;
  readonly y: number;
}

/** Where everything of the draft lies. */
export interface DraftLayout {
  readonly width: number;
  readonly height: number;
  readonly rows: readonly {
    readonly id: string;
    readonly path: string;
    readonly y: number;
    readonly beads: readonly BeadPlace[];
    readonly addX: number;
    readonly used: boolean;
  }[];
  readonly tieX: number;
  readonly columns: readonly { readonly name: 'red' | 'green' | 'blue'; readonly x: number }[];
  /** Path of the mix whose knots are shown; undefined where the chosen place has none. */
  readonly mix: string | undefined;
  readonly layersX: number;
  /** How far the layers and the cloth stand below their place, so that they stay in view where the threads were scrolled. */
  readonly down: number;
  readonly layers: readonly {
    readonly path: string;
    readonly y: number;
    readonly index: number;
    readonly strands: readonly string[];
  }[];
  readonly layerWidth: number;
  readonly clothX: number;
  readonly clothY: number;
  readonly clothBeads: readonly BeadPlace[];
  readonly clothAddX: number;
}

/** Path of the mix that a strand is woven from. */
function strandMix(recipe: Recipe, index: number): string | undefined {
  const from = recipe.strands[index]?.from;
  return from && 'mix' in from ? `strands[${index}].from` : undefined;
}

/** Path of the mix that a layer shows: its own, or that of the strand that it is made of. */
function layerMix(recipe: Recipe, index: number): string | undefined {
  const source = recipe.cloth?.layers[index]?.of;
  if (!source) return undefined;
  if ('mix' in source) return `cloth.layers[${index}].of`;
  return 'strand' in source
    ? strandMix(
        recipe,
        recipe.strands.findIndex((strand) => strand.id === source.strand),
      )
    : undefined;
}

/** Path of the mix that belongs to a chosen place: its own layer's or strand's, else the first layer's that has one. */
function mixOf(recipe: Recipe, chosen: string): string | undefined {
  const own = /^cloth\.layers\[(\d+)\]/.exec(chosen);
  if (own) return layerMix(recipe, Number(own[1]));
  const strand = /^strands\[(\d+)\]/.exec(chosen);
  const ofStrand = strand ? strandMix(recipe, Number(strand[1])) : undefined;
  return ofStrand ?? (recipe.cloth?.layers ?? []).map((_, i) => layerMix(recipe, i)).find(Boolean);
}

/** The mix at a path that `DraftLayout.mix` gives. */
export const mixAt = (recipe: Recipe, path: string): Mix | undefined => {
  const match = /^(?:cloth\.layers|strands)\[(\d+)\]/.exec(path);
  const index = Number(match?.[1]);
  const source = path.startsWith('cloth') ? recipe.cloth?.layers[index]?.of : recipe.strands[index]?.from;
  return source && 'mix' in source ? source : undefined;
};

/**
 * Lays the recipe out: strands down, their steps to the right, then the tie-up, the layers, and the cloth.
 * @param scrolled pixels of the threads that are out of sight above
 */
export function layOut(recipe: Recipe, chosen: string, scrolled = 0): DraftLayout {
  const layers = recipe.cloth?.layers ?? [];
  const used = strandsInUse(recipe);
  const most = Math.max(1, ...recipe.strands.map((strand) => strand.steps?.length ?? 0));
  const rows = recipe.strands.map((strand, i) => {
    const y = TOP + i * ROW;
    const beads = (strand.steps ?? []).map((_, k) => ({ path: `strands[${i}].steps[${k}]`, x: BEADS + k * BEAD, y }));
    return {
      id: strand.id,
      path: `strands[${i}]`,
      y,
      beads,
      addX: BEADS + beads.length * BEAD,
      used: used.has(strand.id),
    };
  });
  const tieX = BEADS + most * BEAD + 56;
  const names = ['red', 'green', 'blue'] as const;
  const columns = names.map((name, c) => ({ name, x: tieX + c * COLUMN }));
  const layersX = tieX + 2 * COLUMN + 116;
  // Room for the layers and the button below them.
  const down = Math.max(0, Math.min(scrolled, rows.length * ROW - layers.length * LAYER_ROW));
  const laid = layers.map((layer, index) => ({
    path: `cloth.layers[${index}]`,
    index,
    y: TOP + down + (layers.length - 1 - index) * LAYER_ROW,
    strands: strandsOf(layer.of),
  }));
  const clothX = layersX + LAYER_WIDTH + 62;
  const clothY = TOP + down + ((Math.max(1, layers.length) - 1) * LAYER_ROW) / 2;
  const clothSteps = stepsAt(recipe, 'cloth.steps');
  const clothBeads = clothSteps.map((_, k) => ({ path: `cloth.steps[${k}]`, x: clothX + 66 + k * BEAD, y: clothY }));
  const clothAddX = clothX + 66 + clothSteps.length * BEAD;
  return {
    width: clothAddX + 60,
    height: TOP + Math.max(rows.length * ROW, layers.length * LAYER_ROW) + 34,
    rows,
    tieX,
    columns,
    mix: mixOf(recipe, chosen),
    layersX,
    down,
    layers: laid,
    layerWidth: LAYER_WIDTH,
    clothX,
    clothY,
    clothBeads,
    clothAddX,
  };
}
