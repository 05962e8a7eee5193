import { createApi, fetchBaseQuery, retry } from '@reduxjs/toolkit/query/react';
import type { Measurement } from '#engine/measurements/index';
import type { RequestedMeasurement } from '#engine/measurement-plan';
import type { StackAssessment } from '#recipe/palettes/prepare';
import type { Palette } from '#recipe/palettes/palette';
import type { Recipe } from '#recipe/schema';
import type { FileRequest } from '../loom/write/files';
import type { Pattern } from '#recipe/patterns/schema';
import type {
  ExportRow,
  JobRow,
  PatternRow,
  RecipeRow,
  RenewalRow,
  SheetEntry,
  StateRow,
  StackRow,
  SwatchRow,
  TargetCard,
} from './rows';

export interface ApiFault {
  readonly status: number | string;
  readonly data?: {
    readonly error: {
      readonly code: string;
      readonly message: string;
      readonly path?: string;
      readonly revision?: number;
      readonly body?: Recipe;
    };
  };
}

/** The sentence to show for a failed request. */
export function faultText(fault: unknown): string {
  const { data } = (fault ?? {}) as ApiFault;
  return data?.error?.message ?? 'Owl Loom does not answer; is it still running? It is started with ./loom start.';
}

/** No request takes longer unless the server is gone: heavy work goes on in jobs. */
const PATIENCE = 20_000;
/** How often what only reads is asked for again, while nothing answers or the server is starting. */
const TRIES = 4;

/** Requests with a time limit; those that only read are tried again where nothing answered. */
const withAnotherTry = retry(fetchBaseQuery({ baseUrl: '/api', timeout: PATIENCE }), {
  retryCondition: (fault, args, { attempt }) => {
    const { status } = fault as { status?: unknown };
    const reads = typeof args === 'string' || (args as { method?: string }).method === undefined;
    return reads && attempt <= TRIES && (status === 503 || status === 'FETCH_ERROR' || status === 'TIMEOUT_ERROR');
  },
});

export const api = createApi({
  reducerPath: 'api',
  baseQuery: withAnotherTry,
  tagTypes: [
    'House',
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
    targets: build.query<TargetCard[], void>({ query: () => '/targets', providesTags: ['Target'] }),
    target: build.query<TargetCard, string>({ query: (id) => `/targets/${id}`, providesTags: ['Target'] }),
    addTarget: build.mutation<TargetCard, string>({
      query: (name) => ({ url: '/targets', method: 'POST', body: { name } }),
      invalidatesTags: ['Target'],
    }),
    renameTarget: build.mutation<TargetCard, { id: string; name: string }>({
      query: ({ id, name }) => ({ url: `/targets/${id}`, method: 'PATCH', body: { name } }),
      invalidatesTags: ['Target'],
    }),
    removeTarget: build.mutation<void, string>({
      query: (id) => ({ url: `/targets/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Target', 'Trash'],
    }),
    stacks: build.query<StackRow[], string>({
      query: (target) => `/targets/${target}/stacks`,
      providesTags: ['Stack'],
    }),
    header: build.query<string[], string>({ query: (id) => `/stacks/${id}/header` }),
    editStack: build.mutation<
      StackRow,
      { id: string; change: Partial<Pick<StackRow, 'name' | 'filter' | 'wavelength' | 'domain' | 'exposure'>> }
    >({
      query: ({ id, change }) => ({ url: `/stacks/${id}`, method: 'PATCH', body: change }),
      invalidatesTags: ['Stack', 'Target', 'Sheet'],
    }),
    scaleStacks: build.mutation<{ jobs: string[] }, { target: string; divisor: number | null; stacks?: string[] }>({
      query: ({ target, ...body }) => ({ url: `/targets/${target}/scale`, method: 'POST', body }),
    }),
    blankEdges: build.mutation<{ job: string }, { id: string; blank: boolean }>({
      query: ({ id, blank }) => ({ url: `/stacks/${id}/edges`, method: 'POST', body: { blank } }),
    }),
    inbox: build.query<{ folder: string; files: { name: string; bytes: number }[] }, void>({
      query: () => '/inbox',
      keepUnusedDataFor: 0,
    }),
    takeInbox: build.mutation<
      { name: string; job?: string; trouble?: string; again?: boolean; mended?: boolean }[],
      { target: string; files: string[] }
    >({ query: ({ target, files }) => ({ url: `/targets/${target}/inbox`, method: 'POST', body: { files } }) }),
    removeStack: build.mutation<void, string>({
      query: (id) => ({ url: `/stacks/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Trash', 'Stack', 'Target', 'Sheet'],
    }),
    recipe: build.query<RecipeRow & { body: Recipe }, string>({
      query: (id) => `/recipes/${id}`,
      keepUnusedDataFor: 0,
    }),
    /** A recipe that was changed since is asked for anew: `changed` is when it was. */
    cover: build.query<{ name: string | null; fresh: boolean }, { id: string; changed: string }>({
      query: ({ id }) => `/recipes/${id}/cover`,
      providesTags: ['Cover'],
    }),
    /** A picture of a recipe in whichever state, to look at until the true one is there. */
    anyCover: build.query<{ name: string | null }, string>({
      query: (id) => `/recipes/${id}/cover?any=1`,
      keepUnusedDataFor: 0,
    }),
    addRecipe: build.mutation<RecipeRow, { target: string; body: Recipe }>({
      query: ({ target, body }) => ({ url: `/targets/${target}/recipes`, method: 'POST', body: { body } }),
      invalidatesTags: ['Target'],
    }),
    saveRecipe: build.mutation<RecipeRow, { id: string; parent: number; body: Recipe; key?: string }>({
      query: ({ id, ...body }) => ({ url: `/recipes/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Target'],
    }),
    removeRecipe: build.mutation<void, string>({
      query: (id) => ({ url: `/recipes/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Trash', 'Target'],
    }),
    measure: build.mutation<
      {
        figures: Record<string, Measurement>;
        failed: Record<string, string>;
        obstacle: string | null;
        job: string | null;
      },
      { target: string; recipe: Recipe; paths: string[]; also: RequestedMeasurement[]; known?: boolean }
    >({
      query: ({ target, ...body }) => ({ url: `/targets/${target}/measure`, method: 'POST', body }),
    }),
    proof: build.mutation<
      { pixels: string; kept: string[]; job: string | null },
      { target: string; recipe: Recipe; path: string }
    >({
      query: ({ target, ...body }) => ({ url: `/targets/${target}/proof`, method: 'POST', body }),
    }),
    palettes: build.query<{ entries: SheetEntry[]; ground: StackAssessment }, string>({
      query: (target) => `/targets/${target}/palettes`,
      providesTags: ['Sheet'],
    }),
    weaveSheet: build.mutation<{ weaving: boolean }, string>({
      query: (target) => ({ url: `/targets/${target}/sheet`, method: 'POST' }),
    }),
    keepPalette: build.mutation<{ id: string }, { target: string; name: string; says: string; recipe: Recipe }>({
      query: ({ target, ...body }) => ({ url: `/targets/${target}/palettes`, method: 'POST', body }),
      invalidatesTags: ['Sheet'],
    }),
    /** All palettes as they are, of no target. */
    dressings: build.query<Palette[], void>({ query: () => '/palettes', providesTags: ['Sheet'] }),
    bringPalette: build.mutation<{ id: string; name: string }, Palette>({
      query: (body) => ({ url: '/palettes', method: 'POST', body }),
      invalidatesTags: ['Sheet'],
    }),
    dropPalette: build.mutation<void, string>({
      query: (id) => ({ url: `/palettes/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Sheet'],
    }),
    renewals: build.query<RenewalRow[], string>({
      query: (target) => `/targets/${target}/renewals`,
      providesTags: ['Stack'],
    }),
    seenRenewal: build.mutation<void, string>({
      query: (id) => ({ url: `/renewals/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Stack'],
    }),
    patterns: build.query<PatternRow[], void>({ query: () => '/patterns', providesTags: ['Pattern'] }),
    keepPattern: build.mutation<PatternRow, { name: string; says: string; body: Pattern }>({
      query: (body) => ({ url: '/patterns', method: 'POST', body }),
      invalidatesTags: ['Pattern'],
    }),
    dropPattern: build.mutation<void, string>({
      query: (id) => ({ url: `/patterns/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Pattern'],
    }),
    swatches: build.query<SwatchRow[], string>({
      query: (target) => `/targets/${target}/swatches`,
      providesTags: ['Swatch'],
    }),
    /** A kept state never changes: it is asked for once. */
    swatch: build.query<SwatchRow & { body: Recipe }, string>({ query: (id) => `/swatches/${id}` }),
    keepSwatch: build.mutation<SwatchRow, { target: string; recipeId: string; body: Recipe }>({
      query: ({ target, ...body }) => ({ url: `/targets/${target}/swatches`, method: 'POST', body }),
      invalidatesTags: ['Swatch'],
    }),
    editSwatch: build.mutation<SwatchRow, { id: string; change: Partial<Pick<SwatchRow, 'name' | 'note'>> }>({
      query: ({ id, change }) => ({ url: `/swatches/${id}`, method: 'PATCH', body: change }),
      invalidatesTags: ['Swatch'],
    }),
    weaveSwatch: build.mutation<SwatchRow, string>({
      query: (id) => ({ url: `/swatches/${id}/weave`, method: 'POST' }),
      invalidatesTags: ['Swatch'],
    }),
    dropSwatch: build.mutation<void, string>({
      query: (id) => ({ url: `/swatches/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Trash', 'Swatch', 'Target'],
    }),
    states: build.query<StateRow[], string>({
      query: (recipe) => `/recipes/${recipe}/states`,
      providesTags: ['State'],
    }),
    /** An earlier state never changes: it is asked for once. */
    state: build.query<StateRow & { body: Recipe }, string>({ query: (id) => `/states/${id}` }),
    nameState: build.mutation<void, { id: string; label: string | null }>({
      query: ({ id, label }) => ({ url: `/states/${id}`, method: 'PATCH', body: { label } }),
      invalidatesTags: ['State'],
    }),
    weaveState: build.mutation<{ picture: string | null }, string>({
      query: (id) => ({ url: `/states/${id}/picture`, method: 'POST' }),
    }),
    jobs: build.query<JobRow[], void>({ query: () => '/jobs', providesTags: ['Job'] }),
    cancelJob: build.mutation<void, string>({ query: (id) => ({ url: `/jobs/${id}/cancel`, method: 'POST' }) }),
    exports: build.query<ExportRow[], string>({
      query: (target) => `/targets/${target}/exports`,
      providesTags: ['Export'],
    }),
    addExport: build.mutation<
      { job: string },
      { target: string; recipeId: string; format: string; depth?: number; node?: string } & Partial<FileRequest>
    >({
      query: ({ target, ...body }) => ({ url: `/targets/${target}/exports`, method: 'POST', body }),
    }),
    exportAgain: build.mutation<{ job: string }, string>({
      query: (id) => ({ url: `/exports/${id}/again`, method: 'POST' }),
    }),
    removeExport: build.mutation<void, string>({
      query: (id) => ({ url: `/exports/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Trash', 'Export'],
    }),
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
  useTakeInboxMutation,
  useRecipeQuery,
  useAddRecipeMutation,
  useSaveRecipeMutation,
  useMeasureMutation,
  usePalettesQuery,
  useWeaveSheetMutation,
  useKeepPaletteMutation,
  useDressingsQuery,
  useBringPaletteMutation,
  useDropPaletteMutation,
  useRenewalsQuery,
  useSeenRenewalMutation,
  usePatternsQuery,
  useKeepPatternMutation,
  useDropPatternMutation,
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
