import type { Mix, Recipe } from '@owl-loom/recipe/schema';
import { COLUMNS } from '../../document/columns';
import { BEAD, CLOTH_ROW, fitWidths, held } from './fit-widths';
import { chooseOpenRows } from './fold';
import { rowPriority } from './row-priority';
import {
  maskOwners,
  pathsUsingMask,
  layersOfList,
  isPathInside,
  type StepOwner,
  stepOwnerAt,
  stepOwners,
  layerListOf,
  layerListParent,
  strandOwners,
  strandsInUse,
  strandsReadBySource,
} from '@owl-loom/recipe/walk';
import { sourceAt } from '@owl-loom/recipe/paths';

/** Measures of the draft, in screen pixels. */
const HEAD = 26;
const ROW = 34;
/** Where not all rows have room, those that stand open stand closer, and the others lie folded in lines. */
const CLOSE_ROW = 28;
const RUN = 26;
/** From thread to thread where folded ones leave their line. */
const SIDE_BY_SIDE = 2;
const BEADS = 104;
const COLUMN = 46;
const LAYER_ROW = { most: 40, least: 20 };

/** The window in which the draft is seen. */
export interface DraftViewport {
  readonly width: number;
  readonly height: number;
  /** Pixels that are out of sight above. */
  readonly scrolled?: number;
}

export interface BeadPlace {
  readonly path: string;
  readonly x: number;
  readonly y: number;
}

/** A thread with its beads. */
export interface ThreadPlace {
  readonly id: string;
  readonly path: string;
  readonly stepsPath: string;
  readonly y: number;
  readonly beads: readonly BeadPlace[];
  readonly addX: number;
  readonly used: boolean;
  /** Whether it lies folded in a line with others, without its beads. */
  readonly folded: boolean;
}

/** Threads of one kind that are folded into one line. */
export interface FoldedRowPlace {
  readonly y: number;
  readonly width: number;
  readonly paths: readonly string[];
}

/** Where something stands that is seen through a mask. */
export interface MaskUse {
  readonly path: string;
  readonly x: number;
  readonly y: number;
  /** Whether it is a bead: a line to it would cross the threads between. */
  readonly bead: boolean;
}

/** Where everything of the draft lies. */
export interface DraftLayout {
  readonly width: number;
  readonly height: number;
  readonly rows: readonly ThreadPlace[];
  /** Height that shows everything unfolded. */
  readonly needs: number;
  /** Foot of the strands' threads. */
  readonly threadsEnd: number;
  readonly runs: readonly FoldedRowPlace[];
  readonly beadWidth: number;
  /** The shared masks, and where what is seen through each stands. */
  readonly masks: readonly (ThreadPlace & { readonly uses: readonly MaskUse[] })[];
  readonly tieX: number;
  readonly columns: readonly ((typeof COLUMNS)[number] & { readonly x: number })[];
  /** Path of the mix whose knots are shown; undefined where the chosen place has none. */
  readonly mix: string | undefined;
  /** Path of the layers that are shown, and what they are the inside of; nothing for the cloth's own. */
  readonly room: string;
  readonly inside: StepOwner | undefined;
  readonly layersX: number;
  /** How far the layers and the cloth stand below their place, so that they stay in view where the threads were scrolled. */
  readonly down: number;
  readonly layers: readonly {
    readonly path: string;
    readonly y: number;
    /** False where it is hidden. */
    readonly visible: boolean;
    readonly strands: readonly string[];
  }[];
  readonly layerWidth: number;
  readonly layerRow: number;
  readonly clothX: number;
  readonly clothY: number;
  readonly clothStepsPath: string;
  readonly clothBeads: readonly BeadPlace[];
  /** Where the next step of the cloth is added, and how far right its lines of steps run. */
  readonly clothAdd: { readonly x: number; readonly y: number };
  readonly clothEnd: number;
}

/** Path of the mix that an owner is made of: its own, or that of the strand that it is made of. */
function mixPathOf(recipe: Recipe, owner: StepOwner | undefined): string | undefined {
  const source = owner?.source;
  if (!owner || !source) return undefined;
  if ('mix' in source) return owner.sourcePath;
  return 'strand' in source
    ? mixPathOf(
        recipe,
        strandOwners(recipe).find(({ id }) => id === source.strand),
      )
    : undefined;
}

/** Path of the mix that belongs to a chosen place: its own layer's or strand's, else that of the room's first layer that has one. */
function mixOf(recipe: Recipe, chosen: string): string | undefined {
  const owner = stepOwnerAt(recipe, chosen);
  const own = mixPathOf(recipe, owner);
  if (own || owner?.kind === 'layer') return own;
  return layersOfList(recipe, layerListOf(chosen))
    .map((layer) => mixPathOf(recipe, layer))
    .find(Boolean);
}

/** Strands that a layer shows, those of the layers in it too. */
const strandsIn = (recipe: Recipe, path: string): string[] => [
  ...new Set(
    [...stepOwners(recipe)]
      .filter((owner) => owner.kind === 'layer' && (owner.path === path || isPathInside(owner.path, `${path}.of`)))
      .flatMap(({ source }) => (source ? strandsReadBySource(source) : [])),
  ),
];

/** The mix at a path that `DraftLayout.mix` gives. */
export const mixAt = (recipe: Recipe, path: string): Mix | undefined => {
  const source = sourceAt(recipe, path);
  return source && 'mix' in source ? source : undefined;
};

/** Rows from the top down: those that stand open each by itself, below them the others in one line. */
function stacked(
  owners: readonly StepOwner[],
  open: readonly boolean[],
  top: number,
  row: number,
): { ys: number[]; run: Omit<FoldedRowPlace, 'width'> | undefined; end: number } {
  const shown = open.filter(Boolean).length;
  const folded = owners.filter((_, i) => !open[i]);
  const lineY = top + shown * row + RUN / 2;
  let [next, side] = [0, 0];
  const ys = open.map((isOpen) =>
    // Out of the line the threads run on side by side.
    isOpen ? top + (next++ + 0.5) * row : lineY + (side++ - (folded.length - 1) / 2) * SIDE_BY_SIDE,
  );
  return {
    ys,
    run: folded.length > 0 ? { y: lineY, paths: folded.map(({ path }) => path) } : undefined,
    end: top + shown * row + (folded.length > 0 ? RUN : 0),
  };
}

/**
 * Lays the recipe out in a window: strands down, their steps to the right, then the tie-up, the layers, and the cloth. Where there is more
 * than has room, threads that are quiet just now are folded together, and beads and layers draw closer.
 */
export function layoutDraft(recipe: Recipe, chosen: string, window: DraftViewport): DraftLayout {
  const room = layerListOf(chosen);
  const inside = layerListParent(recipe, room);
  const [strands, layers] = [strandOwners(recipe), layersOfList(recipe, room)];
  const sharedMasks = maskOwners(recipe);
  // Inside a small cloth the way leads back up: its own steps stand in the room above.
  const cloth = inside ? undefined : stepOwnerAt(recipe, 'cloth');
  const used = strandsInUse(recipe);
  const mix = mixOf(recipe, chosen);

  const clothSteps = cloth?.steps ?? [];
  const max = Math.max(1, ...[...strands, ...sharedMasks].map(({ steps }) => steps.length));
  // What stands beside the beads and the layer cards, from the left end to the right.
  const fixed = BEADS + 56 + 3 * COLUMN + 84 + 52 + 66 + 40;
  const ranks = rowPriority(recipe, chosen, mix);
  const groups = [strands, sharedMasks].map((owners) => owners.map(ranks));
  const space = window.height - HEAD - 4;
  const { lines, layerWidth, pitch } = fitWidths(window.width - fixed, max, clothSteps.length, space);
  const roomy = (strands.length + sharedMasks.length) * ROW <= space;
  const row = roomy ? ROW : CLOSE_ROW;
  const open = chooseOpenRows(groups, space, { row, run: RUN });
  const above = stacked(strands, open[0], HEAD, row);
  const below = stacked(sharedMasks, open[1], above.end + (sharedMasks.length > 0 ? 4 : 0), row);

  const thread = (owner: StepOwner, y: number, folded: boolean, isUsed: boolean): ThreadPlace => {
    const { id = '', path, steps, stepsPath } = owner;
    const beads = folded ? [] : steps.map((_, k) => ({ path: `${stepsPath}[${k}]`, x: BEADS + k * pitch, y }));
    return { id, path, stepsPath, y, beads, addX: BEADS + beads.length * pitch, used: isUsed, folded };
  };
  const rows = strands.map((owner, i) => thread(owner, above.ys[i], !open[0][i], used.has(owner.id ?? '')));
  const tieX = BEADS + max * pitch + 56;
  const columns = COLUMNS.map((column, c) => ({ ...column, x: tieX + c * COLUMN }));
  const layersX = columns[columns.length - 1].x + 84;
  const runWidth = columns[columns.length - 1].x + 14;
  const layerRow = held(Math.floor(space / Math.max(1, layers.length)), LAYER_ROW.least, LAYER_ROW.most);
  const layersEnd = HEAD + layers.length * layerRow;
  // Layers and cloth stay in view where the threads were scrolled.
  const down = Math.max(0, Math.min(window.scrolled ?? 0, below.end - layersEnd));
  const laid = layers.map(({ path, visible }, index) => ({
    path,
    visible,
    y: HEAD + down + (layers.length - index - 0.5) * layerRow,
    strands: strandsIn(recipe, path),
  }));
  const clothX = layersX + layerWidth + 52;
  const clothY = HEAD + down + (Math.max(1, layers.length) * layerRow) / 2;
  const clothStepsPath = cloth?.stepsPath ?? 'cloth.steps';
  const inLine = Math.max(1, Math.ceil(clothSteps.length / lines));
  // The first line runs on from the cloth, where those below it have room.
  const firstY = Math.max(
    HEAD + down + CLOTH_ROW / 2,
    Math.min(clothY, HEAD + down + space - (lines - 0.5) * CLOTH_ROW),
  );
  const clothBeads = clothSteps.map((_, k) => ({
    path: `${clothStepsPath}[${k}]`,
    x: clothX + 66 + (k % inLine) * pitch,
    y: firstY + Math.floor(k / inLine) * CLOTH_ROW,
  }));
  const lastLine = clothSteps.length - (lines - 1) * inLine;
  const clothAdd = { x: clothX + 66 + lastLine * pitch, y: firstY + (lines - 1) * CLOTH_ROW };
  const clothEnd = lines > 1 ? Math.max(clothX + 66 + inLine * pitch - BEAD.gap + 6, clothAdd.x) : clothAdd.x;
  const places = new Map([...rows.flatMap(({ beads }) => beads), ...clothBeads].map((bead) => [bead.path, bead]));
  const useAt = (path: string): MaskUse | undefined => {
    const bead = places.get(path);
    if (bead) return { path, x: bead.x + (pitch - BEAD.gap) / 2, y: bead.y + 12, bead: true };
    // A step of a layer, or what lies in it, is seen at the layer's card.
    const layer = laid.find((card) => path === card.path || path.startsWith(`${card.path}.`));
    return layer && { path, x: layersX, y: layer.y + Math.min(10, layerRow / 4), bead: false };
  };
  const masks = sharedMasks.map((owner, i) => {
    const uses = pathsUsingMask(recipe, owner.id ?? '').flatMap((path) => useAt(path) ?? []);
    const place = thread(owner, below.ys[i], !open[1][i], uses.length > 0);
    return { ...place, addX: place.folded ? runWidth - 34 : place.addX, uses };
  });
  return {
    width: Math.max(clothEnd, clothAdd.x) + 40,
    height: Math.max(below.end, layersEnd, clothAdd.y + CLOTH_ROW / 2),
    needs: HEAD + 8 + Math.max((strands.length + sharedMasks.length) * ROW, layers.length * LAYER_ROW.most),
    threadsEnd: above.end,
    runs: [above.run, below.run].flatMap((run) => (run ? [{ ...run, width: runWidth }] : [])),
    beadWidth: pitch - BEAD.gap,
    rows,
    masks,
    tieX,
    columns,
    mix,
    room,
    inside,
    layersX,
    down,
    layers: laid,
    layerWidth,
    layerRow,
    clothX,
    clothY,
    clothStepsPath,
    clothBeads,
    clothAdd,
    clothEnd,
  };
}
