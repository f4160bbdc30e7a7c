import type { MarkInput, RevisionInput, Setup, SetupDetail, ThumbRules, Unmark } from '@ebrix/contract';
import { baseApi, type Versioned } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

const detail = { transformResponse: answerOf('getSetup'), invalidatesTags: ['Setup', 'Trial'] as const };

export const setupsApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listSetups: build.query<Setup[], void>({
      query: () => requestTo('listSetups'),
      transformResponse: answerOf('listSetups'),
      providesTags: ['Setup'],
    }),
    getSetup: build.query<SetupDetail, string>({
      query: (id) => requestTo('getSetup', { params: { id } }),
      transformResponse: answerOf('getSetup'),
      providesTags: ['Setup'],
    }),
    addSetup: build.mutation<SetupDetail, { name: string; notes: string; revision: RevisionInput }>({
      query: (body) => requestTo('addSetup', { body }),
      transformResponse: answerOf('addSetup'),
      invalidatesTags: ['Setup', 'Demo'],
    }),
    addRevision: build.mutation<SetupDetail, { id: string; revision: RevisionInput }>({
      query: ({ id, revision }) => requestTo('addRevision', { params: { id }, body: revision }),
      ...detail,
    }),
    changeSetup: build.mutation<SetupDetail, { stored: Versioned; name: string; notes: string }>({
      query: ({ stored, ...body }) =>
        requestTo('changeSetup', { params: { id: stored.id }, body: { ...body, version: stored.version } }),
      transformResponse: answerOf('changeSetup'),
      invalidatesTags: ['Setup', 'Run', 'Trial'],
    }),
    archiveSetup: build.mutation<SetupDetail, { stored: Versioned; archived: boolean }>({
      query: ({ stored, archived }) =>
        requestTo('archiveSetup', { params: { id: stored.id }, body: { version: stored.version, archived } }),
      ...detail,
    }),
    copySetup: build.mutation<SetupDetail, { id: string; name: string }>({
      query: ({ id, name }) => requestTo('copySetup', { params: { id }, body: { name } }),
      ...detail,
    }),
    importSetup: build.mutation<SetupDetail, File>({
      query: (file) => requestTo('importSetup', { form: { file } }),
      transformResponse: answerOf('importSetup'),
      invalidatesTags: ['Setup', 'Part', 'Demo'],
    }),
    thumbRules: build.query<ThumbRules, void>({
      query: () => requestTo('thumbRules'),
      transformResponse: answerOf('thumbRules'),
      providesTags: ['ThumbRule'],
    }),
    setThumbRules: build.mutation<ThumbRules, { rules: ThumbRules; seen: ThumbRules }>({
      query: (body) => requestTo('setThumbRules', { body }),
      transformResponse: answerOf('setThumbRules'),
      invalidatesTags: ['ThumbRule'],
    }),
    mark: build.mutation<SetupDetail, { revisionId: string; input: MarkInput }>({
      query: ({ revisionId, input }) => requestTo('mark', { params: { id: revisionId }, body: input }),
      ...detail,
    }),
    unmark: build.mutation<SetupDetail, { revisionId: string; input: Unmark }>({
      query: ({ revisionId, input }) => requestTo('unmark', { params: { id: revisionId }, body: input }),
      ...detail,
    }),
  }),
});
export const {
  useListSetupsQuery,
  useGetSetupQuery,
  useAddSetupMutation,
  useAddRevisionMutation,
  useChangeSetupMutation,
  useArchiveSetupMutation,
  useCopySetupMutation,
  useImportSetupMutation,
  useMarkMutation,
  useUnmarkMutation,
  useThumbRulesQuery,
  useSetThumbRulesMutation,
} = setupsApi;
