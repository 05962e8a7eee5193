import { type PayloadAction, createSlice } from '@reduxjs/toolkit';

/** How the picture is looked at; never part of the recipe. */
export interface ViewState {
  readonly mode: 'bright' | 'true';
  /** Path whose tone brightens every strand, so that a fit can be seen; null lets each have its own. */
  readonly anchor: string | null;
  readonly clipping: boolean;
  /** Whether a chosen layer shows by itself or with all below it. */
  readonly layerAlone: boolean;
  /** What the chosen step took out, in place of what it left. */
  readonly taken: boolean;
  readonly loupe: boolean;
}

const initial: ViewState = { mode: 'bright', anchor: null, clipping: false, layerAlone: false, taken: false, loupe: false };

export const viewSlice = createSlice({
  name: 'view',
  initialState: initial,
  reducers: {
    looked: (state, { payload }: PayloadAction<Partial<ViewState>>) => ({ ...state, ...payload }),
  },
});

export const { looked } = viewSlice.actions;
