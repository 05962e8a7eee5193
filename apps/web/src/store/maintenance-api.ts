import type { Body } from '@owl-loom/api/endpoints';
import type { TrashedRow } from '@owl-loom/api/maintenance';
import { api } from './api';
import { ask } from './request';

const place = ({ kind, id }: Pick<TrashedRow, 'kind' | 'id'>) => ({ kind, id });

/** Requests about the server as a whole: sign-in, health, backups, archives, the trash. */
export const maintenanceApi = api.injectEndpoints({
  endpoints: (build) => ({
    unlock: build.mutation(ask('POST /session', (password: string) => ({ body: { password } }))),
    lock: build.mutation(ask('DELETE /session')),
    sessions: build.query({ ...ask('GET /sessions'), providesTags: ['ServerStatus'] }),
    endOthers: build.mutation({ ...ask('DELETE /sessions'), invalidatesTags: ['ServerStatus'] }),
    serverStatus: build.query({ ...ask('GET /house'), providesTags: ['ServerStatus'] }),
    verify: build.mutation(ask('POST /verify', (repair: boolean) => ({ body: { repair } }))),
    schedule: build.query({ ...ask('GET /backups/schedule'), providesTags: ['ServerStatus'] }),
    saveSchedule: build.mutation({
      ...ask('PUT /backups/schedule', (body: Body<'PUT /backups/schedule'>) => ({ body })),
      invalidatesTags: ['ServerStatus'],
    }),
    backUp: build.mutation(ask('POST /backups', (dir: string) => ({ body: { dir } }))),
    archiveTarget: build.mutation(
      ask('POST /targets/:id/archive', ({ id, ...body }: { id: string; originals: boolean; impersonal: boolean }) => ({
        id,
        body,
      })),
    ),
    trash: build.query({ ...ask('GET /trash'), providesTags: ['Trash'] }),
    restore: build.mutation({
      ...ask('POST /trash/:kind/:id/back', place),
      invalidatesTags: ['Trash', 'Target', 'Stack', 'Sheet', 'Swatch', 'Export'],
    }),
    deletePermanently: build.mutation({ ...ask('DELETE /trash/:kind/:id', place), invalidatesTags: ['Trash'] }),
    emptyTrash: build.mutation({ ...ask('DELETE /trash'), invalidatesTags: ['Trash'] }),
  }),
});

export const {
  useUnlockMutation,
  useLockMutation,
  useSessionsQuery,
  useEndOthersMutation,
  useServerStatusQuery,
  useVerifyMutation,
  useScheduleQuery,
  useSaveScheduleMutation,
  useBackUpMutation,
  useArchiveTargetMutation,
  useTrashQuery,
  useDeletePermanentlyMutation,
  useEmptyTrashMutation,
} = maintenanceApi;
