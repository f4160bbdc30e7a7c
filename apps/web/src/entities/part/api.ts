import { ROUTES, partSchemas, type Part, type PartImport, type PartInput, type PartKind } from '@ebrix/contract';
import { baseApi, type Versioned } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const benchApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listParts: build.query<Part[], PartKind>({
      query: (kind) => requestTo(ROUTES.listParts, { params: { kind } }),
      transformResponse: (answer: unknown, _meta, kind) => partSchemas[kind].array().parse(answer),
      providesTags: ['Part'],
    }),
    savePart: build.mutation<Part, { kind: PartKind; input: PartInput; stored?: Versioned }>({
      query: ({ kind, input, stored }) =>
        stored
          ? requestTo(ROUTES.changePart, {
              params: { kind, id: stored.id },
              body: { ...input, version: stored.version },
            })
          : requestTo(ROUTES.addPart, { params: { kind }, body: input }),
      invalidatesTags: ['Part'],
    }),
    archivePart: build.mutation<Part, { kind: PartKind; stored: Versioned; archived: boolean }>({
      query: ({ kind, stored, archived }) =>
        requestTo(ROUTES.archivePart, { params: { kind, id: stored.id }, body: { version: stored.version, archived } }),
      transformResponse: answerOf(ROUTES.archivePart),
      invalidatesTags: ['Part'],
    }),
    deletePart: build.mutation<void, { kind: PartKind; stored: Versioned }>({
      query: ({ kind, stored: { id, version } }) =>
        requestTo(ROUTES.deletePart, { params: { kind, id }, query: { version } }),
      transformResponse: answerOf(ROUTES.deletePart),
      invalidatesTags: ['Part'],
    }),
    importParts: build.mutation<PartImport, { kind: PartKind; file: File }>({
      query: ({ kind, file }) => requestTo(ROUTES.importParts, { params: { kind }, form: { file } }),
      transformResponse: answerOf(ROUTES.importParts),
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
