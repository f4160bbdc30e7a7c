import {
  partSchemas,
  setupSchema,
  type Part,
  type PartInput,
  type PartKind,
  type RevisionInput,
  type Setup,
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
    listSetups: build.query<Setup[], void>({
      query: () => 'setups',
      transformResponse: checked(setupSchema.array()),
      providesTags: ['Setup'],
    }),
    addSetup: build.mutation<Setup, { name: string; notes: string; revision: RevisionInput }>({
      query: (body) => ({ url: 'setups', method: 'POST', body }),
      invalidatesTags: ['Setup', 'Demo'],
    }),
    addRevision: build.mutation<Setup, { id: string; revision: RevisionInput }>({
      query: ({ id, revision }) => ({ url: `setups/${id}/revisions`, method: 'POST', body: revision }),
      invalidatesTags: ['Setup'],
    }),
    changeSetup: build.mutation<Setup, { stored: Versioned; name: string; notes: string }>({
      query: ({ stored, ...body }) => ({
        url: `setups/${stored.id}`,
        method: 'PUT',
        body: { ...body, version: stored.version },
      }),
      invalidatesTags: ['Setup', 'Run', 'Trial'],
    }),
    archiveSetup: build.mutation<Setup, { stored: Versioned; archived: boolean }>({
      query: ({ stored, archived }) => ({
        url: `setups/${stored.id}/archive`,
        method: 'PUT',
        body: { version: stored.version, archived },
      }),
      invalidatesTags: ['Setup'],
    }),
  }),
});
export const {
  useListPartsQuery,
  useSavePartMutation,
  useArchivePartMutation,
  useDeletePartMutation,
  useListSetupsQuery,
  useAddSetupMutation,
  useAddRevisionMutation,
  useChangeSetupMutation,
  useArchiveSetupMutation,
} = benchApi;
