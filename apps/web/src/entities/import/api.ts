import {
  importFileSchema,
  type ImportFile,
  type KeepLogs,
  type MappingDto,
  type NotebookAnswer,
  type NotebookInput,
  type Split,
  type StartImport,
} from '@ebrix/contract';
import { hearEvents } from '../../shared/api/event-stream.js';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const importsApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listImports: build.query<ImportFile[], void>({
      query: () => requestTo('listImports'),
      transformResponse: answerOf('listImports'),
      providesTags: ['Import'],
      /** States arrive by themselves while the list is on screen. */
      async onCacheEntryAdded(_argument, { cacheDataLoaded, cacheEntryRemoved, dispatch }) {
        await cacheDataLoaded.catch(() => undefined);
        if (typeof EventSource === 'undefined') return;
        const end = hearEvents(
          '/api/imports/events',
          {
            // An event only says that something changed: an answer under way could be older than what it would bring.
            imports: (data) => {
              const changed = importFileSchema.array().parse(JSON.parse(data));
              const isNewRun = changed.some(({ status }) => status === 'done');
              dispatch(
                baseApi.util.invalidateTags(
                  isNewRun ? ['Import', 'Run', 'Trial', 'Setup', 'Course', 'Outing'] : ['Import'],
                ),
              );
            },
          },
          // After a lost line, what was missed is fetched.
          (isConnected) => void (isConnected && dispatch(baseApi.util.invalidateTags(['Import']))),
        );
        await cacheEntryRemoved;
        end();
      },
    }),
    stageFiles: build.mutation<ImportFile[], readonly File[]>({
      query: (files) => requestTo('stageFiles', { form: { files } }),
      transformResponse: answerOf('stageFiles'),
      invalidatesTags: ['Import'],
    }),
    startImport: build.mutation<ImportFile[], StartImport>({
      query: (body) => requestTo('startImport', { body }),
      transformResponse: answerOf('startImport'),
      invalidatesTags: ['Import'],
    }),
    splitImport: build.mutation<Split, { id: string; mapping: MappingDto | null; courseId: string | null }>({
      query: ({ id, ...body }) => requestTo('splitImport', { params: { id }, body }),
      transformResponse: answerOf('splitImport'),
    }),
    storeNotebook: build.mutation<NotebookAnswer, NotebookInput>({
      query: (body) => requestTo('storeNotebook', { body }),
      transformResponse: answerOf('storeNotebook'),
      invalidatesTags: ['Import', 'Part', 'Setup', 'Course', 'Outing'],
    }),
    keepLogs: build.mutation<NotebookAnswer, KeepLogs>({
      query: (body) => requestTo('keepLogs', { body }),
      transformResponse: answerOf('keepLogs'),
      invalidatesTags: ['Import', 'Part', 'Setup', 'Course', 'Outing'],
    }),
    discardImport: build.mutation<void, string>({
      query: (id) => requestTo('discardImport', { params: { id } }),
      transformResponse: answerOf('discardImport'),
      invalidatesTags: ['Import'],
    }),
  }),
});
export const {
  useListImportsQuery,
  useStageFilesMutation,
  useStartImportMutation,
  useSplitImportMutation,
  useDiscardImportMutation,
  useStoreNotebookMutation,
  useKeepLogsMutation,
} = importsApi;
