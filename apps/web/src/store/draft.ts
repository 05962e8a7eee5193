import { type PayloadAction, createSlice, original } from '@reduxjs/toolkit';
import type { Recipe } from '@owl-loom/recipe/schema';
import { valueAt } from '@owl-loom/recipe/paths';

/**
 * Where the last change stands: kept on disk, on its way, waiting for the server, refused because another page was faster, or refused for
 * what it holds.
 */
export type SaveState = 'kept' | 'changed' | 'saving' | 'away' | 'conflict' | 'refused';

/** The open recipe with its history. Nothing is ever applied: undo and redo go without end while the page is open. */
export interface DraftState {
  readonly id: string | null;
  readonly recipe: Recipe | null;
  readonly revision: number;
  readonly past: readonly Recipe[];
  readonly future: readonly Recipe[];
  /** Path of the chosen bead; the picture shows the state there. */
  readonly selectedPath: string;
  readonly save: SaveState;
  /** Why the last save failed. */
  readonly trouble: string | null;
  /** Changes of one gesture share a name and become one step of the history. */
  readonly gesture: string | null;
}

const initial: DraftState = {
  id: null,
  recipe: null,
  revision: 0,
  past: [],
  future: [],
  selectedPath: 'cloth',
  save: 'kept',
  trouble: null,
  gesture: null,
};

/** The chosen path, or the nearest bead above it that is still there. */
function stillThere(recipe: Recipe, chosen: string): string {
  let path = chosen;
  while (path && valueAt(recipe, path) === undefined) path = path.replace(/\.?[^.[\]]+$|\[\d+\]$/, '');
  if (path.endsWith('.steps')) path = path.slice(0, -'.steps'.length);
  return path === '' || path === 'strands' || path === 'cloth.layers' ? 'cloth' : path;
}

export const draftSlice = createSlice({
  name: 'draft',
  initialState: initial,
  reducers: {
    opened: (_, { payload }: PayloadAction<{ id: string; recipe: Recipe; revision: number }>) => ({
      ...initial,
      ...payload,
    }),
    closed: () => initial,
    changed: (state, { payload }: PayloadAction<{ recipe: Recipe; gesture?: string; chosen?: string }>) => {
      if (!state.recipe) return state;
      const same = payload.gesture !== undefined && payload.gesture === state.gesture;
      return {
        ...state,
        recipe: payload.recipe,
        past: same ? state.past : [...state.past, state.recipe],
        future: [],
        selectedPath: stillThere(payload.recipe, payload.chosen ?? state.selectedPath),
        save: state.save === 'conflict' ? 'conflict' : 'changed',
        gesture: payload.gesture ?? null,
      };
    },
    gestureEnded: (state) => ({ ...state, gesture: null }),
    undone: (state) => {
      const before = state.past.at(-1);
      if (!before || !state.recipe) return state;
      return {
        ...state,
        recipe: before,
        past: state.past.slice(0, -1),
        future: [state.recipe, ...state.future],
        selectedPath: stillThere(before, state.selectedPath),
        save: 'changed',
        gesture: null,
      };
    },
    redone: (state) => {
      const [after, ...rest] = state.future;
      if (!after || !state.recipe) return state;
      return {
        ...state,
        recipe: after,
        past: [...state.past, state.recipe],
        future: rest,
        selectedPath: stillThere(after, state.selectedPath),
        save: 'changed',
        gesture: null,
      };
    },
    chose: (state, { payload }: PayloadAction<string>) => ({ ...state, selectedPath: payload, gesture: null }),
    saving: (state) => ({ ...state, save: 'saving' }),
    /** A save came back; what changed meanwhile is saved next. */
    saved: (state, { payload }: PayloadAction<{ recipe: Recipe; revision: number }>) => ({
      ...state,
      revision: payload.revision,
      // The state here is a draft of the real one, whose recipe is the very object that was sent.
      save: payload.recipe === original(state)?.recipe ? 'kept' : 'changed',
      trouble: null,
    }),
    saveFailed: (
      state,
      { payload }: PayloadAction<{ save: 'away' | 'conflict' | 'refused'; trouble: string; revision?: number }>,
    ) => ({
      ...state,
      save: payload.save,
      trouble: payload.trouble,
      revision: payload.revision ?? state.revision,
    }),
  },
});

export const {
  opened: recipeOpened,
  closed,
  changed: recipeChanged,
  gestureEnded,
  undone,
  redone,
  chose: selectionChanged,
  saving,
  saved,
  saveFailed,
} = draftSlice.actions;
