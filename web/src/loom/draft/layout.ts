import type { Mix, Recipe, Source } from '../../../../core/recipe/schema';
import { valueAt } from '../../store/paths';
import { COLUMNS } from '../columns';
import {
  maskOwners,
  maskUses,
  layersIn,
  liesIn,
  type Owner,
  ownerAt,
  ownersOf,
  roomOf,
  roomOwner,
  strandOwners,
  strandsInUse,
  strandsOf,
} from '../../../../core/recipe/walk';

/** Measures of the draft, in screen pixels. */
export const ROW = 34;
export const TOP = 40;
const BEADS = 104;
const BEAD = 106;
export const BEAD_WIDTH = 92;
const COLUMN = 46;
const LAYER_WIDTH = 286;
export const LAYER_ROW = 40;

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
  /** Where the buttons for a new strand and a new mask stand. */
  readonly newY: number;
  /** The shared masks, and where what is seen through each stands. */
  readonly masks: readonly (ThreadPlace & { readonly uses: readonly MaskUse[] })[];
  readonly tieX: number;
  readonly columns: readonly ((typeof COLUMNS)[number] & { readonly x: number })[];
  /** Path of the mix whose knots are shown; undefined where the chosen place has none. */
  readonly mix: string | undefined;
  /** Path of the layers that are shown, and what they are the inside of; nothing for the cloth's own. */
  readonly room: string;
  readonly inside: Owner | undefined;
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
  readonly clothX: number;
  readonly clothY: number;
  readonly clothStepsPath: string;
  readonly clothBeads: readonly BeadPlace[];
  readonly clothAddX: number;
}

/** Path of the mix that an owner is made of: its own, or that of the strand that it is made of. */
function mixPathOf(recipe: Recipe, owner: Owner | undefined): string | undefined {
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
  const owner = ownerAt(recipe, chosen);
  const own = mixPathOf(recipe, owner);
  if (own || owner?.kind === 'layer') return own;
  return layersIn(recipe, roomOf(chosen))
    .map((layer) => mixPathOf(recipe, layer))
    .find(Boolean);
}

/** Strands that a layer shows, those of the layers in it too. */
const strandsIn = (recipe: Recipe, path: string): string[] => [
  ...new Set(
    [...ownersOf(recipe)]
      .filter((owner) => owner.kind === 'layer' && (owner.path === path || liesIn(owner.path, `${path}.of`)))
      .flatMap(({ source }) => (source ? strandsOf(source) : [])),
  ),
];

/** The mix at a path that `DraftLayout.mix` gives. */
export const mixAt = (recipe: Recipe, path: string): Mix | undefined => {
  const source = valueAt(recipe, path) as Source | undefined;
  return source && 'mix' in source ? source : undefined;
};

/**
 * Lays the recipe out: strands down, their steps to the right, then the tie-up, the layers, and the cloth.
 * @param scrolled pixels of the threads that are out of sight above
 */
export function layOut(recipe: Recipe, chosen: string, scrolled = 0): DraftLayout {
  const room = roomOf(chosen);
  const inside = roomOwner(recipe, room);
  const [strands, layers] = [strandOwners(recipe), layersIn(recipe, room)];
  // Inside a small cloth the way leads back up: its own steps stand in the room above.
  const cloth = inside ? undefined : ownerAt(recipe, 'cloth');
  const used = strandsInUse(recipe);
  const most = Math.max(1, ...[...strands, ...maskOwners(recipe)].map(({ steps }) => steps.length));
  const thread = ({ id = '', path, steps, stepsPath }: Owner, y: number, isUsed: boolean): ThreadPlace => {
    const beads = steps.map((_, k) => ({ path: `${stepsPath}[${k}]`, x: BEADS + k * BEAD, y }));
    return { id, path, stepsPath, y, beads, addX: BEADS + beads.length * BEAD, used: isUsed };
  };
  const rows = strands.map((owner, i) => thread(owner, TOP + i * ROW, used.has(owner.id ?? '')));
  const newY = TOP + rows.length * ROW;
  const sharedMasks = maskOwners(recipe);
  const tieX = BEADS + most * BEAD + 56;
  const columns = COLUMNS.map((column, c) => ({ ...column, x: tieX + c * COLUMN }));
  const layersX = columns[columns.length - 1].x + 116;
  // Room for the layers and the button below them.
  const down = Math.max(0, Math.min(scrolled, (rows.length + sharedMasks.length) * ROW - layers.length * LAYER_ROW));
  const laid = layers.map(({ path, visible }, index) => ({
    path,
    visible,
    y: TOP + down + (layers.length - 1 - index) * LAYER_ROW,
    strands: strandsIn(recipe, path),
  }));
  const clothX = layersX + LAYER_WIDTH + 62;
  const clothY = TOP + down + ((Math.max(1, layers.length) - 1) * LAYER_ROW) / 2;
  const clothSteps = cloth?.steps ?? [];
  const clothStepsPath = cloth?.stepsPath ?? 'cloth.steps';
  const clothBeads = clothSteps.map((_, k) => ({
    path: `${clothStepsPath}[${k}]`,
    x: clothX + 66 + k * BEAD,
    y: clothY,
  }));
  const clothAddX = clothX + 66 + clothSteps.length * BEAD;
  const places = new Map([...rows.flatMap(({ beads }) => beads), ...clothBeads].map((bead) => [bead.path, bead]));
  const useAt = (path: string): MaskUse | undefined => {
    const bead = places.get(path);
    if (bead) return { path, x: bead.x + BEAD_WIDTH / 2, y: bead.y + 12, bead: true };
    // A step of a layer, or what lies in it, is seen at the layer's card.
    const layer = laid.find((card) => path === card.path || path.startsWith(`${card.path}.`));
    return layer && { path, x: layersX, y: layer.y + 10, bead: false };
  };
  const masks = sharedMasks.map((owner, i) => {
    const uses = maskUses(recipe, owner.id ?? '').flatMap((path) => useAt(path) ?? []);
    return { ...thread(owner, newY + 40 + i * ROW, uses.length > 0), uses };
  });
  const threadsEnd = masks.length > 0 ? masks[masks.length - 1].y : newY;
  return {
    width: clothAddX + 60,
    height: Math.max(threadsEnd, TOP + layers.length * LAYER_ROW) + 34,
    rows,
    newY,
    masks,
    tieX,
    columns,
    mix: mixOf(recipe, chosen),
    room,
    inside,
    layersX,
    down,
    layers: laid,
    layerWidth: LAYER_WIDTH,
    clothX,
    clothY,
    clothStepsPath,
    clothBeads,
    clothAddX,
  };
}
