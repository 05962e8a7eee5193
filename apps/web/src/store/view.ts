import { type PayloadAction, createSlice } from '@reduxjs/toolkit';
import type { DriftKind } from '@owl-loom/algorithms/colour/drift';
import type { Rect } from '@owl-loom/image/geometry/rect';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { Veil } from '../../worker/protocol';
import { selectionChanged, recipeOpened } from './draft';
import type { Compare } from '../image-view/compare';

/** What a mask is painted with: lengths in full-size pixels, strength 0 to 1. */
export interface Brush {
  readonly shape: 'stroke' | 'ellipse' | 'polygon' | 'ramp';
  readonly mode: 'hide' | 'reveal';
  readonly radius: number;
  readonly soft: number;
  readonly strength: number;
}

/**
 * What the picture is held against: the state before what is chosen, another place of the recipe, the same without its mask, a state that
 * was held or the one that was opened, another recipe, a palette on this target's stacks.
 */
export type ComparisonTarget =
  | { readonly kind: 'before' | 'unmasked' | 'held' | 'opened' }
  | { readonly kind: 'place'; readonly path: string }
  | { readonly kind: 'recipe'; readonly id: string }
  | { readonly kind: 'palette'; readonly name: string }
  /** `own`: it is a state of the open recipe, so that the same place of it can be looked at. */
  | { readonly kind: 'swatch'; readonly id: string; readonly own: boolean };

export type Watch = 'bead' | 'layer' | 'cloth';

/** How the picture is looked at; never part of the recipe. */
export interface ViewState {
  readonly mode: 'bright' | 'true';
  /** Path whose tone brightens every strand, so that a fit can be seen; null lets each have its own. */
  readonly anchor: string | null;
  readonly clipping: boolean;
  /** Whether a chosen layer shows by itself or with all below it. */
  readonly layerAlone: boolean;
  /**
   * What the picture shows while the bench sets what is chosen: the chosen bead itself, the cloth up to the layer that it belongs to, or the
   * cloth. It stays from bead to bead.
   */
  readonly watch: Watch;
  /** What the chosen step took out, in place of what it left. */
  readonly showRemoved: boolean;
  /** What the chosen layer does not change, veiled. */
  readonly showChanged: boolean;
  readonly loupe: boolean;
  /** Whether the draft is as high as all that is in it. */
  readonly tallDraft: boolean;
  /** How the shown image is held against another, and which that is. */
  readonly compare: Compare;
  readonly comparisonTarget: ComparisonTarget;
  /** What of the colours a drift map shows. */
  readonly driftOf: DriftKind;
  /** A place of the finished cloth that is to stay as it is, in full-size pixels. */
  readonly guard: Rect | null;
  /** A state of the open recipe that was put aside to be held against later ones. */
  readonly heldRecipe: Recipe | null;
  /** Whether the stars that were found are marked. */
  readonly stars: boolean;
  /** A rectangle that was drawn to look into, in full-size pixels. */
  readonly region: Rect | null;
  /** A place of which is asked where its colour comes from, in full-size pixels. */
  readonly attributionRect: Rect | null;
  /** What the next drag or touch on the picture does. */
  readonly tool: 'level' | 'paint' | 'hue' | 'curve' | 'ask' | null;
  readonly brush: Brush;
  /** Whether what the chosen family of hues does not hold is veiled. */
  readonly familyVeiled: boolean;
  /** Which of the strokes and shapes on the chosen mask is taken up. */
  readonly selectedShape: number | null;
  /** Whether the mask of what is chosen is left out for a look. */
  readonly unmasked: boolean;
  /** How a chosen mask is seen: by itself, over the picture, or not at all. */
  readonly maskAs: 'alone' | Veil | 'not';
}

const initial: ViewState = {
  mode: 'bright',
  anchor: null,
  clipping: false,
  layerAlone: false,
  watch: 'bead',
  showRemoved: false,
  showChanged: false,
  loupe: false,
  tallDraft: false,
  compare: 'off',
  comparisonTarget: { kind: 'before' },
  heldRecipe: null,
  driftOf: 'hue',
  guard: null,
  stars: false,
  region: null,
  attributionRect: null,
  tool: null,
  familyVeiled: false,
  unmasked: false,
  maskAs: 'alone',
  selectedShape: null,
  brush: { shape: 'stroke', mode: 'reveal', radius: 40, soft: 40, strength: 1 },
};

export const viewSlice = createSlice({
  name: 'view',
  initialState: initial,
  reducers: {
    looked: (state, { payload }: PayloadAction<Partial<ViewState>>) => ({ ...state, ...payload }),
  },
  // A stroke that was taken up lies on the mask that was chosen then.
  extraReducers: (build) =>
    build
      .addCase(selectionChanged, (state) => ({
        ...state,
        selectedShape: null,
        tool: state.tool === 'curve' || state.tool === 'hue' ? null : state.tool,
      }))
      // Another recipe is another picture.
      .addCase(recipeOpened, (state) => ({ ...state, region: null, attributionRect: null, guard: null })),
});

export const { looked: viewChanged } = viewSlice.actions;
