import { createApi, fetchBaseQuery, retry } from '@reduxjs/toolkit/query/react';
import type { ErrorBody } from '@owl-loom/api/wire';
import type { Body } from '@owl-loom/api/endpoints';
import type { StackChange } from '@owl-loom/api/stacks';
import type { SwatchRow } from '@owl-loom/api/swatches';
import type { Recipe } from '@owl-loom/recipe/schema';
import type { Palette } from '@owl-loom/recipe/palettes/palette';
import { ask, byId } from './request';

/** A request that failed, as Redux Toolkit gives it: with the server's refusal, or with none where nothing answered. */
export interface ApiFault {
  readonly status: number | string;
  readonly data?: ErrorBody;
}

/** The sentence to show for a failed request. */
export function faultText(error: unknown): string {
  const { data } = (error ?? {}) as ApiFault;
  return data?.error?.message ?? 'Owl Loom is not responding. If it has stopped, start it with ./loom start.';
}

/** No request takes longer unless the server is gone: heavy work goes on in jobs. */
const PATIENCE = 20_000;
/** How often what only reads is asked for again, while nothing answers or the server is starting. */
const TRIES = 4;

/** Requests with a time limit; those that only read are tried again where nothing answered. */
const withAnotherTry = retry(fetchBaseQuery({ baseUrl: '/api', timeout: PATIENCE }), {
  retryCondition: (error, args, { attempt }) => {
    const { status } = error as { status?: unknown };
    const { method } = args as { method?: string };
    const reads = method === 'GET';
    return reads && attempt <= TRIES && (status === 503 || status === 'FETCH_ERROR' || status === 'TIMEOUT_ERROR');
  },
});

export const api = createApi({
  reducerPath: 'api',
  baseQuery: withAnotherTry,
  tagTypes: [
    'ServerStatus',
    'Trash',
    'Target',
    'Stack',
    'Recipe',
    'Job',
    'Export',
    'Cover',
    'Sheet',
    'Swatch',
    'Pattern',
    'State',
  ],
  endpoints: (build) => ({
    targets: build.query({ ...ask('GET /targets'), providesTags: ['Target'] }),
    target: build.query({ ...ask('GET /targets/:id', byId), providesTags: ['Target'] }),
    addTarget: build.mutation({
      ...ask('POST /targets', (name: string) => ({ body: { name } })),
      invalidatesTags: ['Target'],
    }),
    renameTarget: build.mutation({
      ...ask('PATCH /targets/:id', ({ id, name }: { id: string; name: string }) => ({ id, body: { name } })),
      invalidatesTags: ['Target'],
    }),
    removeTarget: build.mutation({ ...ask('DELETE /targets/:id', byId), invalidatesTags: ['Target', 'Trash'] }),
    stacks: build.query({ ...ask('GET /targets/:id/stacks', byId), providesTags: ['Stack'] }),
    header: build.query(ask('GET /stacks/:id/header', byId)),
    editStack: build.mutation({
      ...ask('PATCH /stacks/:id', ({ id, change }: { id: string; change: StackChange }) => ({ id, body: change })),
      invalidatesTags: ['Stack', 'Target', 'Sheet'],
    }),
    scaleStacks: build.mutation(
      ask('POST /targets/:id/scale', ({ target, ...body }: { target: string } & Body<'POST /targets/:id/scale'>) => ({
        id: target,
        body,
      })),
    ),
    blankEdges: build.mutation(
      ask('POST /stacks/:id/edges', ({ id, blank }: { id: string; blank: boolean }) => ({ id, body: { blank } })),
    ),
    inbox: build.query({ ...ask('GET /inbox'), keepUnusedDataFor: 0 }),
    importFromInbox: build.mutation(
      ask('POST /targets/:id/inbox', ({ target, files }: { target: string; files: string[] }) => ({
        id: target,
        body: { files },
      })),
    ),
    removeStack: build.mutation({
      ...ask('DELETE /stacks/:id', byId),
      invalidatesTags: ['Trash', 'Stack', 'Target', 'Sheet'],
    }),
    recipe: build.query({ ...ask('GET /recipes/:id', byId), keepUnusedDataFor: 0 }),
    /** A recipe that was changed since is asked for anew: `changed` is when it was. */
    cover: build.query({
      ...ask('GET /recipes/:id/cover', ({ id }: { id: string; changed: string }) => ({ id })),
      providesTags: ['Cover'],
    }),
    /** A picture of a recipe in any version, to look at until the true one is there. */
    anyCover: build.query({
      ...ask('GET /recipes/:id/cover', (id: string) => ({ id, params: { any: '1' } })),
      keepUnusedDataFor: 0,
    }),
    addRecipe: build.mutation({
      ...ask('POST /targets/:id/recipes', ({ target, body }: { target: string; body: Recipe }) => ({
        id: target,
        body: { body },
      })),
      invalidatesTags: ['Target'],
    }),
    saveRecipe: build.mutation({
      ...ask('PUT /recipes/:id', ({ id, ...body }: { id: string } & Body<'PUT /recipes/:id'>) => ({ id, body })),
      invalidatesTags: ['Target'],
    }),
    removeRecipe: build.mutation({ ...ask('DELETE /recipes/:id', byId), invalidatesTags: ['Trash', 'Target'] }),
    measure: build.mutation(
      ask(
        'POST /targets/:id/measure',
        ({ target, ...body }: { target: string } & Body<'POST /targets/:id/measure'>) => ({ id: target, body }),
      ),
    ),
    proof: build.mutation(
      ask('POST /targets/:id/proof', ({ target, ...body }: { target: string } & Body<'POST /targets/:id/proof'>) => ({
        id: target,
        body,
      })),
    ),
    palettes: build.query({ ...ask('GET /targets/:id/palettes', byId), providesTags: ['Sheet'] }),
    weaveSheet: build.mutation(ask('POST /targets/:id/sheet', byId)),
    savePalette: build.mutation({
      ...ask(
        'POST /targets/:id/palettes',
        ({ target, ...body }: { target: string } & Body<'POST /targets/:id/palettes'>) => ({ id: target, body }),
      ),
      invalidatesTags: ['Sheet'],
    }),
    /** All palettes as they are, of no target. */
    allPalettes: build.query({ ...ask('GET /palettes'), providesTags: ['Sheet'] }),
    importPalette: build.mutation({
      ...ask('POST /palettes', (body: Palette) => ({ body })),
      invalidatesTags: ['Sheet'],
    }),
    deletePalette: build.mutation({ ...ask('DELETE /palettes/:id', byId), invalidatesTags: ['Sheet'] }),
    replacements: build.query({ ...ask('GET /targets/:id/renewals', byId), providesTags: ['Stack'] }),
    dismissReplacement: build.mutation({ ...ask('DELETE /renewals/:id', byId), invalidatesTags: ['Stack'] }),
    patterns: build.query({ ...ask('GET /patterns'), providesTags: ['Pattern'] }),
    savePattern: build.mutation({
      ...ask('POST /patterns', (body: Body<'POST /patterns'>) => ({ body })),
      invalidatesTags: ['Pattern'],
    }),
    deletePattern: build.mutation({ ...ask('DELETE /patterns/:id', byId), invalidatesTags: ['Pattern'] }),
    swatches: build.query({ ...ask('GET /targets/:id/swatches', byId), providesTags: ['Swatch'] }),
    /** A swatch's recipe never changes: it is asked for once. */
    swatch: build.query(ask('GET /swatches/:id', byId)),
    saveSwatch: build.mutation({
      ...ask(
        'POST /targets/:id/swatches',
        ({ target, ...body }: { target: string } & Body<'POST /targets/:id/swatches'>) => ({ id: target, body }),
      ),
      invalidatesTags: ['Swatch'],
    }),
    editSwatch: build.mutation({
      ...ask(
        'PATCH /swatches/:id',
        ({ id, change }: { id: string; change: Partial<Pick<SwatchRow, 'name' | 'note'>> }) => ({ id, body: change }),
      ),
      invalidatesTags: ['Swatch'],
    }),
    weaveSwatch: build.mutation({ ...ask('POST /swatches/:id/weave', byId), invalidatesTags: ['Swatch'] }),
    removeSwatch: build.mutation({
      ...ask('DELETE /swatches/:id', byId),
      invalidatesTags: ['Trash', 'Swatch', 'Target'],
    }),
    states: build.query({ ...ask('GET /recipes/:id/states', byId), providesTags: ['State'] }),
    /** An earlier version never changes: it is asked for once. */
    state: build.query(ask('GET /states/:id', byId)),
    nameState: build.mutation({
      ...ask('PATCH /states/:id', ({ id, label }: { id: string; label: string | null }) => ({ id, body: { label } })),
      invalidatesTags: ['State'],
    }),
    weaveState: build.mutation(ask('POST /states/:id/picture', byId)),
    jobs: build.query({ ...ask('GET /jobs'), providesTags: ['Job'] }),
    cancelJob: build.mutation(ask('POST /jobs/:id/cancel', byId)),
    exports: build.query({ ...ask('GET /targets/:id/exports', byId), providesTags: ['Export'] }),
    addExport: build.mutation(
      ask(
        'POST /targets/:id/exports',
        ({ target, ...body }: { target: string } & Body<'POST /targets/:id/exports'>) => ({ id: target, body }),
      ),
    ),
    exportAgain: build.mutation(ask('POST /exports/:id/again', byId)),
    removeExport: build.mutation({ ...ask('DELETE /exports/:id', byId), invalidatesTags: ['Trash', 'Export'] }),
  }),
});

export const {
  useTargetsQuery,
  useAnyCoverQuery,
  useCoverQuery,
  useTargetQuery,
  useAddTargetMutation,
  useRenameTargetMutation,
  useStacksQuery,
  useHeaderQuery,
  useEditStackMutation,
  useScaleStacksMutation,
  useBlankEdgesMutation,
  useInboxQuery,
  useImportFromInboxMutation,
  useRecipeQuery,
  useAddRecipeMutation,
  useSaveRecipeMutation,
  useMeasureMutation,
  usePalettesQuery,
  useWeaveSheetMutation,
  useSavePaletteMutation,
  useAllPalettesQuery,
  useImportPaletteMutation,
  useDeletePaletteMutation,
  useReplacementsQuery,
  useDismissReplacementMutation,
  usePatternsQuery,
  useSavePatternMutation,
  useDeletePatternMutation,
  useSwatchesQuery,
  useSwatchQuery,
  useEditSwatchMutation,
  useWeaveSwatchMutation,
  useStatesQuery,
  useStateQuery,
  useNameStateMutation,
  useWeaveStateMutation,
  useJobsQuery,
  useCancelJobMutation,
  useExportsQuery,
  useAddExportMutation,
  useExportAgainMutation,
} = api;
