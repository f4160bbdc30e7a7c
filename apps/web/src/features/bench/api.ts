import {
  partImportSchema,
  partSchemas,
  type Part,
  type PartImport,
  type PartInput,
  type PartKind,
} from '@ebrix/contract';
import { baseApi, checked } from '../../shared/api/base-api.js';

interface Versioned {
  readonly id: string;
  readonly version: number;
}

export const benchApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listParts: build.query<Part[], PartKind>({
      query: (kind) => `bench/${kind}`,
      transformResponse: (answer: unknown, _meta, kind) => partSchemas[kind].array().parse(answer),
      providesTags: ['Part'],
    }),
    savePart: build.mutation<Part, { kind: PartKind; input: PartInput; stored?: Versioned }>({
      query: ({ kind, input, stored }) =>
        stored
          ? { url: `bench/${kind}/${stored.id}`, method: 'PUT', body: { ...input, version: stored.version } }
          : { url: `bench/${kind}`, method: 'POST', body: input },
      invalidatesTags: ['Part'],
    }),
    archivePart: build.mutation<Part, { kind: PartKind; stored: Versioned; archived: boolean }>({
      query: ({ kind, stored, archived }) => ({
        url: `bench/${kind}/${stored.id}/archive`,
        method: 'PUT',
        body: { version: stored.version, archived },
      }),
      invalidatesTags: ['Part'],
    }),
    deletePart: build.mutation<void, { kind: PartKind; id: string }>({
      query: ({ kind, id }) => ({ url: `bench/${kind}/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Part'],
    }),
    importParts: build.mutation<PartImport, { kind: PartKind; file: File }>({
      query: ({ kind, file }) => {
        const body = new FormData();
        body.append('file', file);
        return { url: `bench/${kind}/csv`, method: 'POST', body };
      },
      transformResponse: checked(partImportSchema),
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
