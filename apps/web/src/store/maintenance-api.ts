import { api } from './api';
import type { HouseReport, Schedule, SessionRow, TrashedRow } from './rows';

/** Requests about the house as a whole: its door, its health, backups, archives, the trash. */
export const houseApi = api.injectEndpoints({
  endpoints: (build) => ({
    unlock: build.mutation<void, string>({
      query: (password) => ({ url: '/session', method: 'POST', body: { password } }),
    }),
    lock: build.mutation<void, void>({ query: () => ({ url: '/session', method: 'DELETE' }) }),
    sessions: build.query<SessionRow[], void>({ query: () => '/sessions', providesTags: ['House'] }),
    endOthers: build.mutation<void, void>({
      query: () => ({ url: '/sessions', method: 'DELETE' }),
      invalidatesTags: ['House'],
    }),
    house: build.query<HouseReport, void>({ query: () => '/house', providesTags: ['House'] }),
    verify: build.mutation<{ job: string }, boolean>({
      query: (repair) => ({ url: '/verify', method: 'POST', body: { repair } }),
    }),
    schedule: build.query<Schedule, void>({ query: () => '/backups/schedule', providesTags: ['House'] }),
    saveSchedule: build.mutation<Schedule, Pick<Schedule, 'every' | 'dir'>>({
      query: (body) => ({ url: '/backups/schedule', method: 'PUT', body }),
      invalidatesTags: ['House'],
    }),
    backUp: build.mutation<{ job: string }, string>({
      query: (dir) => ({ url: '/backups', method: 'POST', body: { dir } }),
    }),
    archiveTarget: build.mutation<{ job: string }, { id: string; originals: boolean; impersonal: boolean }>({
      query: ({ id, ...body }) => ({ url: `/targets/${id}/archive`, method: 'POST', body }),
    }),
    trash: build.query<TrashedRow[], void>({ query: () => '/trash', providesTags: ['Trash'] }),
    bringBack: build.mutation<{ name?: string }, Pick<TrashedRow, 'kind' | 'id'>>({
      query: ({ kind, id }) => ({ url: `/trash/${kind}/${id}/back`, method: 'POST' }),
      invalidatesTags: ['Trash', 'Target', 'Stack', 'Sheet', 'Swatch', 'Export'],
    }),
    dropForGood: build.mutation<void, Pick<TrashedRow, 'kind' | 'id'>>({
      query: ({ kind, id }) => ({ url: `/trash/${kind}/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Trash'],
    }),
    emptyTrash: build.mutation<{ gone: number }, void>({
      query: () => ({ url: '/trash', method: 'DELETE' }),
      invalidatesTags: ['Trash'],
    }),
  }),
});

export const {
  useUnlockMutation,
  useLockMutation,
  useSessionsQuery,
  useEndOthersMutation,
  useHouseQuery,
  useVerifyMutation,
  useScheduleQuery,
  useSaveScheduleMutation,
  useBackUpMutation,
  useArchiveTargetMutation,
  useTrashQuery,
  useDropForGoodMutation,
  useEmptyTrashMutation,
} = houseApi;
