import {
  setupDetailSchema,
  setupSchema,
  thumbRulesSchema,
  type MarkInput,
  type RevisionInput,
  type Setup,
  type SetupDetail,
  type ThumbRules,
} from '@ebrix/contract';
import { baseApi, checked } from '../../shared/api/base-api.js';

interface Versioned {
  readonly id: string;
  readonly version: number;
}
const detail = { transformResponse: checked(setupDetailSchema), invalidatesTags: ['Setup', 'Trial'] as const };

export const setupsApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listSetups: build.query<Setup[], void>({
      query: () => 'setups',
      transformResponse: checked(setupSchema.array()),
      providesTags: ['Setup'],
    }),
    getSetup: build.query<SetupDetail, string>({
      query: (id) => `setups/${id}`,
      transformResponse: checked(setupDetailSchema),
      providesTags: ['Setup'],
    }),
    addSetup: build.mutation<SetupDetail, { name: string; notes: string; revision: RevisionInput }>({
      query: (body) => ({ url: 'setups', method: 'POST', body }),
      transformResponse: checked(setupDetailSchema),
      invalidatesTags: ['Setup', 'Demo'],
    }),
    addRevision: build.mutation<SetupDetail, { id: string; revision: RevisionInput }>({
      query: ({ id, revision }) => ({ url: `setups/${id}/revisions`, method: 'POST', body: revision }),
      ...detail,
    }),
    changeSetup: build.mutation<SetupDetail, { stored: Versioned; name: string; notes: string }>({
      query: ({ stored, ...body }) => ({
        url: `setups/${stored.id}`,
        method: 'PUT',
        body: { ...body, version: stored.version },
      }),
      transformResponse: checked(setupDetailSchema),
      invalidatesTags: ['Setup', 'Run', 'Trial'],
    }),
    archiveSetup: build.mutation<SetupDetail, { stored: Versioned; archived: boolean }>({
      query: ({ stored, archived }) => ({
        url: `setups/${stored.id}/archive`,
        method: 'PUT',
        body: { version: stored.version, archived },
      }),
      ...detail,
    }),
    copySetup: build.mutation<SetupDetail, { id: string; name: string }>({
      query: ({ id, name }) => ({ url: `setups/${id}/copy`, method: 'POST', body: { name } }),
      ...detail,
    }),
    bringSetup: build.mutation<SetupDetail, File>({
      query: (file) => {
        const body = new FormData();
        body.append('file', file);
        return { url: 'setups/file', method: 'POST', body };
      },
      transformResponse: checked(setupDetailSchema),
      invalidatesTags: ['Setup', 'Part', 'Demo'],
    }),
    thumbRules: build.query<ThumbRules, void>({
      query: () => 'thumb-rules',
      transformResponse: checked(thumbRulesSchema),
      providesTags: ['ThumbRule'],
    }),
    setThumbRules: build.mutation<ThumbRules, ThumbRules>({
      query: (body) => ({ url: 'thumb-rules', method: 'PUT', body }),
      invalidatesTags: ['ThumbRule'],
    }),
    mark: build.mutation<SetupDetail, { revisionId: string; input: MarkInput }>({
      query: ({ revisionId, input }) => ({ url: `revisions/${revisionId}/marks`, method: 'POST', body: input }),
      ...detail,
    }),
    unmark: build.mutation<SetupDetail, { revisionId: string; ids: readonly string[] }>({
      query: ({ revisionId, ids }) => ({ url: `revisions/${revisionId}/unmark`, method: 'POST', body: { ids } }),
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
  useBringSetupMutation,
  useMarkMutation,
  useUnmarkMutation,
  useThumbRulesQuery,
  useSetThumbRulesMutation,
} = setupsApi;
