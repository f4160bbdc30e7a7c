import type { Backup, BackupList, Load, TrashEntry } from '@ebrix/contract';
import { baseApi, TAGS } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const upkeepApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    backups: build.query<BackupList, void>({
      query: () => requestTo('listBackups'),
      transformResponse: answerOf('listBackups'),
      providesTags: ['Backup'],
      keepUnusedDataFor: 0,
    }),
    load: build.query<Load, void>({
      query: () => requestTo('getLoad'),
      transformResponse: answerOf('getLoad'),
      keepUnusedDataFor: 0,
    }),
    makeBackup: build.mutation<Backup, void>({
      query: () => requestTo('makeBackup'),
      transformResponse: answerOf('makeBackup'),
      invalidatesTags: ['Backup'],
    }),
    trash: build.query<TrashEntry[], void>({
      query: () => requestTo('listTrash'),
      transformResponse: answerOf('listTrash'),
      providesTags: ['Trash'],
      // Whatever is deleted anywhere adds to it.
      keepUnusedDataFor: 0,
    }),
    bringBack: build.mutation<null, string>({
      query: (id) => requestTo('bringBack', { params: { id } }),
      invalidatesTags: TAGS,
    }),
    dropFromTrash: build.mutation<null, string>({
      query: (id) => requestTo('dropFromTrash', { params: { id } }),
      invalidatesTags: ['Trash'],
    }),
  }),
});
export const {
  useBackupsQuery,
  useLoadQuery,
  useMakeBackupMutation,
  useTrashQuery,
  useBringBackMutation,
  useDropFromTrashMutation,
} = upkeepApi;
