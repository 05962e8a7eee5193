import { configureStore, createSlice, isRejectedWithValue, type PayloadAction } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { api, type ApiFault } from './api';
import type { JobRow } from '@owl-loom/api/jobs';
import { draftSlice } from './draft';
import { viewSlice } from './view';

/**
 * Jobs by id as the server's events tell of them, whether the line to the server stands, the bytes that are free on its disk, and whether it
 * asks for the password.
 */
const liveSlice = createSlice({
  name: 'live',
  initialState: {
    jobs: {} as Readonly<Record<string, JobRow>>,
    online: true,
    free: null as number | null,
    locked: false,
  },
  reducers: {
    jobTold: (state, { payload }: PayloadAction<JobRow>) => {
      return { ...state, jobs: { ...state.jobs, [payload.id]: payload } };
    },
    jobsListed: (state, { payload }: PayloadAction<readonly JobRow[]>) => {
      return { ...state, jobs: { ...state.jobs, ...Object.fromEntries(payload.map((job) => [job.id, job])) } };
    },
    roomTold: (state, { payload }: PayloadAction<number>) => {
      state.free = payload;
    },
    lineChanged: (state, { payload }: PayloadAction<boolean>) => {
      state.online = payload;
    },
  },
  extraReducers: (builder) =>
    builder.addMatcher(isRejectedWithValue, (state, { payload }) => {
      const { data } = payload as ApiFault;
      if (data?.error?.code === 'no-session') state.locked = true;
    }),
});

export const { jobTold, jobsListed, lineChanged: connectionChanged, roomTold: diskSpaceReported } = liveSlice.actions;

export const store = configureStore({
  reducer: {
    [api.reducerPath]: api.reducer,
    draft: draftSlice.reducer,
    view: viewSlice.reducer,
    live: liveSlice.reducer,
  },
  // Recipes are small, but measurements and histories are not worth walking on every action.
  middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false }).concat(api.middleware),
});

export type State = ReturnType<typeof store.getState>;
export const useAppSelector = useSelector.withTypes<State>();
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
