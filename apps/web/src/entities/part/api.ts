import { partSchemas, type Part, type PartImport, type PartInput, type PartKind } from '@ebrix/contract';
import { baseApi, type Versioned } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const benchApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listParts: build.query<Part[], PartKind>({
      query: (kind) => requestTo('listParts', { params: { kind } }),
      transformResponse: (answer: unknown, _meta, kind) => partSchemas[kind].array().parse(answer),
      providesTags: ['Part'],
    }),
    savePart: build.mutation<Part, { kind: PartKind; input: PartInput; stored?: Versioned }>({
      query: ({ kind, input, stored }) =>
        stored
          ? requestTo('changePart', {
              params: { kind, id: stored.id },
              body: { ...input, version: stored.version },
            })
          : requestTo('addPart', { params: { kind }, body: input }),
      invalidatesTags: ['Part'],
    }),
    archivePart: build.mutation<Part, { kind: PartKind; stored: Versioned; archived: boolean }>({
      query: ({ kind, stored, archived }) =>
        requestTo('archivePart', { params: { kind, id: stored.id }, body: { version: stored.version, archived } }),
      transformResponse: answerOf('archivePart'),
      invalidatesTags: ['Part'],
    }),
    deletePart: build.mutation<void, { kind: PartKind; stored: Versioned }>({
      query: ({ kind, stored: { id, version } }) =>
        requestTo('deletePart', { params: { kind, id }, query: { version } }),
      transformResponse: answerOf('deletePart'),
      invalidatesTags: ['Part'],
    }),
    importParts: build.mutation<PartImport, { kind: PartKind; file: File }>({
      query: ({ kind, file }) => requestTo('importParts', { params: { kind }, form: { file } }),
      transformResponse: answerOf('importParts'),
      invalidatesTags: ['Part'],
    }),
  }),
});
export const {
  useListPartsQuery,
  useSavePartMutation,
  useArchivePartMutation,
  useDeletePartMutation,
  useImportPartsMutation,
} = benchApi;
