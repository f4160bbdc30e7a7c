import {
  ROUTES,
  type MarkInput,
  type RevisionInput,
  type Setup,
  type SetupDetail,
  type ThumbRules,
  type Unmark,
} from '@ebrix/contract';
import { baseApi, type Versioned } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

const detail = { transformResponse: answerOf(ROUTES.getSetup), invalidatesTags: ['Setup', 'Trial'] as const };

export const setupsApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listSetups: build.query<Setup[], void>({
      query: () => requestTo(ROUTES.listSetups),
      transformResponse: answerOf(ROUTES.listSetups),
      providesTags: ['Setup'],
    }),
    getSetup: build.query<SetupDetail, string>({
      query: (id) => requestTo(ROUTES.getSetup, { params: { id } }),
      transformResponse: answerOf(ROUTES.getSetup),
      providesTags: ['Setup'],
    }),
    addSetup: build.mutation<SetupDetail, { name: string; notes: string; revision: RevisionInput }>({
      query: (body) => requestTo(ROUTES.addSetup, { body }),
      transformResponse: answerOf(ROUTES.addSetup),
      invalidatesTags: ['Setup', 'Demo'],
    }),
    addRevision: build.mutation<SetupDetail, { id: string; revision: RevisionInput }>({
      query: ({ id, revision }) => requestTo(ROUTES.addRevision, { params: { id }, body: revision }),
      ...detail,
    }),
    changeSetup: build.mutation<SetupDetail, { stored: Versioned; name: string; notes: string }>({
      query: ({ stored, ...body }) =>
        requestTo(ROUTES.changeSetup, { params: { id: stored.id }, body: { ...body, version: stored.version } }),
      transformResponse: answerOf(ROUTES.changeSetup),
      invalidatesTags: ['Setup', 'Run', 'Trial'],
    }),
    archiveSetup: build.mutation<SetupDetail, { stored: Versioned; archived: boolean }>({
      query: ({ stored, archived }) =>
        requestTo(ROUTES.archiveSetup, { params: { id: stored.id }, body: { version: stored.version, archived } }),
      ...detail,
    }),
    copySetup: build.mutation<SetupDetail, { id: string; name: string }>({
      query: ({ id, name }) => requestTo(ROUTES.copySetup, { params: { id }, body: { name } }),
      ...detail,
    }),
    importSetup: build.mutation<SetupDetail, File>({
      query: (file) => requestTo(ROUTES.importSetup, { form: { file } }),
      transformResponse: answerOf(ROUTES.importSetup),
      invalidatesTags: ['Setup', 'Part', 'Demo'],
    }),
    thumbRules: build.query<ThumbRules, void>({
      query: () => requestTo(ROUTES.thumbRules),
      transformResponse: answerOf(ROUTES.thumbRules),
      providesTags: ['ThumbRule'],
    }),
    setThumbRules: build.mutation<ThumbRules, { rules: ThumbRules; seen: ThumbRules }>({
      query: (body) => requestTo(ROUTES.setThumbRules, { body }),
      transformResponse: answerOf(ROUTES.setThumbRules),
      invalidatesTags: ['ThumbRule'],
    }),
    mark: build.mutation<SetupDetail, { revisionId: string; input: MarkInput }>({
      query: ({ revisionId, input }) => requestTo(ROUTES.mark, { params: { id: revisionId }, body: input }),
      ...detail,
    }),
    unmark: build.mutation<SetupDetail, { revisionId: string; input: Unmark }>({
      query: ({ revisionId, input }) => requestTo(ROUTES.unmark, { params: { id: revisionId }, body: input }),
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
