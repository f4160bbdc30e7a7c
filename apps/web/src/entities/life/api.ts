import {
  ROUTES,
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
  setup: ROUTES.lifeOfSetup,
  bike: ROUTES.lifeOfBike,
  conversion: ROUTES.lifeOfConversion,
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
        requestTo(ROUTES.listEntries, {
          query: new URLSearchParams({
            ...(subject && { [subject.kind]: subject.id }),
            ...(kind && { kind }),
            ...(after && { after }),
          }).toString(),
        }),
      transformResponse: answerOf(ROUTES.listEntries),
      providesTags: ['Life'],
    }),
    addEntries: build.mutation<{ stored: number; already: number }, readonly EntryInput[]>({
      query: (entries) => requestTo(ROUTES.addEntries, { body: { entries: [...entries] } }),
      transformResponse: answerOf(ROUTES.addEntries),
      invalidatesTags: ['Life'],
    }),
    changeEntry: build.mutation<LogEntry, { stored: Versioned; entry: Omit<EntryInput, 'id'> }>({
      query: ({ stored: { id, version }, entry }) =>
        requestTo(ROUTES.changeEntry, { params: { id }, body: { ...entry, version } }),
      transformResponse: answerOf(ROUTES.changeEntry),
      invalidatesTags: ['Life'],
    }),
    deleteEntry: build.mutation<null, Versioned>({
      query: ({ id, version }) => requestTo(ROUTES.deleteEntry, { params: { id }, query: `version=${version}` }),
      invalidatesTags: ['Life'],
    }),
    getLife: build.query<Life, Subject>({
      query: ({ kind, id }) => requestTo(LIFE_ROUTES[kind], { params: { id } }),
      transformResponse: answerOf(ROUTES.lifeOfSetup),
      providesTags: ['Life', 'Run', 'Setup'],
    }),
    dueEverywhere: build.query<DueList, void>({
      query: () => requestTo(ROUTES.dueEverywhere),
      transformResponse: answerOf(ROUTES.dueEverywhere),
      providesTags: ['Life', 'Run', 'Setup'],
    }),
    reliability: build.query<ReliabilityDto, { by: string; part: string | undefined }>({
      query: ({ by, part }) =>
        requestTo(ROUTES.reliability, { query: new URLSearchParams({ by, ...(part && { part }) }).toString() }),
      transformResponse: answerOf(ROUTES.reliability),
      providesTags: ['Life', 'Run', 'Setup'],
    }),
    logbookSettings: build.query<LogbookSettings, void>({
      query: () => requestTo(ROUTES.logbookSettings),
      transformResponse: answerOf(ROUTES.logbookSettings),
      providesTags: ['Life'],
    }),
    saveLogbookSettings: build.mutation<LogbookSettings, LogbookSettings>({
      query: (body) => requestTo(ROUTES.saveLogbookSettings, { body }),
      transformResponse: answerOf(ROUTES.saveLogbookSettings),
      invalidatesTags: ['Life'],
    }),
    listConversions: build.query<Conversion[], void>({
      query: () => requestTo(ROUTES.listConversions),
      transformResponse: answerOf(ROUTES.listConversions),
      providesTags: ['Life'],
    }),
    addConversion: build.mutation<Conversion, ConversionInput>({
      query: (body) => requestTo(ROUTES.addConversion, { body }),
      transformResponse: answerOf(ROUTES.addConversion),
      invalidatesTags: ['Life'],
    }),
    changeConversion: build.mutation<Conversion, { stored: Versioned; change: ConversionInput }>({
      query: ({ stored: { id, version }, change }) =>
        requestTo(ROUTES.changeConversion, { params: { id }, body: { ...change, version } }),
      transformResponse: answerOf(ROUTES.changeConversion),
      invalidatesTags: ['Life'],
    }),
    archiveConversion: build.mutation<Conversion, { stored: Versioned; archived: boolean }>({
      query: ({ stored: { id, version }, archived }) =>
        requestTo(ROUTES.archiveConversion, { params: { id }, body: { version, archived } }),
      transformResponse: answerOf(ROUTES.archiveConversion),
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
