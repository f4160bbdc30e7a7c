import {
  type Conversion,
  type ConversionInput,
  type DueList,
  type EntriesPage,
  type EntryInput,
  type Life,
  type LogbookSettings,
  type LogEntry,
  type ReliabilityDto,
  type Subject,
} from '@ebrix/contract';
import { baseApi, type Versioned } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

const LIFE_ROUTES = {
  setup: 'lifeOfSetup',
  bike: 'lifeOfBike',
  conversion: 'lifeOfConversion',
} as const;
export interface EntriesAsked {
  readonly subject?: Subject | undefined;
  readonly kind?: string | undefined;
  readonly after?: string | undefined;
}

export const lifeApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listEntries: build.query<EntriesPage, EntriesAsked>({
      query: ({ subject, kind, after }) =>
        requestTo('listEntries', {
          query: new URLSearchParams({
            ...(subject && { [subject.kind]: subject.id }),
            ...(kind && { kind }),
            ...(after && { after }),
          }).toString(),
        }),
      transformResponse: answerOf('listEntries'),
      providesTags: ['Life'],
    }),
    addEntries: build.mutation<{ stored: number; already: number }, readonly EntryInput[]>({
      query: (entries) => requestTo('addEntries', { body: { entries: [...entries] } }),
      transformResponse: answerOf('addEntries'),
      invalidatesTags: ['Life'],
    }),
    changeEntry: build.mutation<LogEntry, { stored: Versioned; entry: Omit<EntryInput, 'id'> }>({
      query: ({ stored: { id, version }, entry }) =>
        requestTo('changeEntry', { params: { id }, body: { ...entry, version } }),
      transformResponse: answerOf('changeEntry'),
      invalidatesTags: ['Life'],
    }),
    deleteEntry: build.mutation<null, Versioned>({
      query: ({ id, version }) => requestTo('deleteEntry', { params: { id }, query: `version=${version}` }),
      invalidatesTags: ['Life'],
    }),
    getLife: build.query<Life, Subject>({
      query: ({ kind, id }) => requestTo(LIFE_ROUTES[kind], { params: { id } }),
      transformResponse: answerOf('lifeOfSetup'),
      providesTags: ['Life', 'Run', 'Setup'],
    }),
    dueEverywhere: build.query<DueList, void>({
      query: () => requestTo('dueEverywhere'),
      transformResponse: answerOf('dueEverywhere'),
      providesTags: ['Life', 'Run', 'Setup'],
    }),
    reliability: build.query<ReliabilityDto, { by: string; part: string | undefined }>({
      query: ({ by, part }) =>
        requestTo('reliability', { query: new URLSearchParams({ by, ...(part && { part }) }).toString() }),
      transformResponse: answerOf('reliability'),
      providesTags: ['Life', 'Run', 'Setup'],
    }),
    logbookSettings: build.query<LogbookSettings, void>({
      query: () => requestTo('logbookSettings'),
      transformResponse: answerOf('logbookSettings'),
      providesTags: ['Life'],
    }),
    saveLogbookSettings: build.mutation<LogbookSettings, LogbookSettings>({
      query: (body) => requestTo('saveLogbookSettings', { body }),
      transformResponse: answerOf('saveLogbookSettings'),
      invalidatesTags: ['Life'],
    }),
    listConversions: build.query<Conversion[], void>({
      query: () => requestTo('listConversions'),
      transformResponse: answerOf('listConversions'),
      providesTags: ['Life'],
    }),
    addConversion: build.mutation<Conversion, ConversionInput>({
      query: (body) => requestTo('addConversion', { body }),
      transformResponse: answerOf('addConversion'),
      invalidatesTags: ['Life'],
    }),
    changeConversion: build.mutation<Conversion, { stored: Versioned; change: ConversionInput }>({
      query: ({ stored: { id, version }, change }) =>
        requestTo('changeConversion', { params: { id }, body: { ...change, version } }),
      transformResponse: answerOf('changeConversion'),
      invalidatesTags: ['Life'],
    }),
    archiveConversion: build.mutation<Conversion, { stored: Versioned; archived: boolean }>({
      query: ({ stored: { id, version }, archived }) =>
        requestTo('archiveConversion', { params: { id }, body: { version, archived } }),
      transformResponse: answerOf('archiveConversion'),
      invalidatesTags: ['Life'],
    }),
  }),
});
export const {
  useListEntriesQuery,
  useAddEntriesMutation,
  useChangeEntryMutation,
  useDeleteEntryMutation,
  useGetLifeQuery,
  useDueEverywhereQuery,
  useReliabilityQuery,
  useLogbookSettingsQuery,
  useSaveLogbookSettingsMutation,
  useListConversionsQuery,
  useAddConversionMutation,
  useChangeConversionMutation,
  useArchiveConversionMutation,
} = lifeApi;
