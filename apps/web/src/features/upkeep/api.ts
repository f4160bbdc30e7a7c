import { ROUTES, type Backup, type BackupList, type Load, type TrashEntry } from '@ebrix/contract';
import { baseApi, TAGS } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const upkeepApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    backups: build.query<BackupList, void>({
      query: () => requestTo(ROUTES.listBackups),
      transformResponse: answerOf(ROUTES.listBackups),
      providesTags: ['Backup'],
      keepUnusedDataFor: 0,
    }),
    load: build.query<Load, void>({
      query: () => requestTo(ROUTES.getLoad),
      transformResponse: answerOf(ROUTES.getLoad),
      keepUnusedDataFor: 0,
    }),
    makeBackup: build.mutation<Backup, void>({
      query: () => requestTo(ROUTES.makeBackup),
      transformResponse: answerOf(ROUTES.makeBackup),
      invalidatesTags: ['Backup'],
    }),
    trash: build.query<TrashEntry[], void>({
      query: () => requestTo(ROUTES.listTrash),
      transformResponse: answerOf(ROUTES.listTrash),
      providesTags: ['Trash'],
      // Whatever is deleted anywhere adds to it.
      keepUnusedDataFor: 0,
    }),
    bringBack: build.mutation<null, string>({
      query: (id) => requestTo(ROUTES.bringBack, { params: { id } }),
      invalidatesTags: TAGS,
    }),
    dropFromTrash: build.mutation<null, string>({
      query: (id) => requestTo(ROUTES.dropFromTrash, { params: { id } }),
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
