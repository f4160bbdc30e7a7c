import type {
  MoneyBook,
  PackageImported,
  PackageLook,
  PackageOrder,
  PreparedPackage,
  PurchaseLineDto,
  Report,
  ReportSpec,
  SetupCosts,
  StoredMoneyBook,
  UseDto,
  UseInput,
  WeighUp,
  WeighUpRequest,
} from '@ebrix/contract';
import { baseApi, TAGS, type Versioned } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const decideApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listUses: build.query<UseDto[], void>({
      query: () => requestTo('listUses'),
      transformResponse: answerOf('listUses'),
      providesTags: ['Use'],
    }),
    saveUse: build.mutation<UseDto, { input: UseInput; stored?: Versioned }>({
      query: ({ input, stored }) =>
        stored
          ? requestTo('changeUse', { params: { id: stored.id }, body: { ...input, version: stored.version } })
          : requestTo('addUse', { body: input }),
      transformResponse: answerOf('changeUse'),
      invalidatesTags: ['Use'],
    }),
    archiveUse: build.mutation<UseDto, { stored: Versioned; archived: boolean }>({
      query: ({ stored, archived }) =>
        requestTo('archiveUse', { params: { id: stored.id }, body: { version: stored.version, archived } }),
      transformResponse: answerOf('archiveUse'),
      invalidatesTags: ['Use'],
    }),
    weighUp: build.query<WeighUp, WeighUpRequest>({
      query: (body) => requestTo('weighUp', { body }),
      transformResponse: answerOf('weighUp'),
      providesTags: ['Run', 'Setup', 'Rating', 'Fitting', 'FittingRecord', 'Money'],
    }),
    getMoneyBook: build.query<StoredMoneyBook, void>({
      query: () => requestTo('getMoneyBook'),
      transformResponse: answerOf('getMoneyBook'),
      providesTags: ['Money'],
    }),
    saveMoneyBook: build.mutation<StoredMoneyBook, { version: number; book: MoneyBook }>({
      query: (body) => requestTo('saveMoneyBook', { body }),
      transformResponse: answerOf('saveMoneyBook'),
      invalidatesTags: ['Money'],
    }),
    costsOfSetup: build.query<SetupCosts, string>({
      query: (setupId) => requestTo('costsOfSetup', { params: { id: setupId } }),
      transformResponse: answerOf('costsOfSetup'),
      providesTags: ['Money', 'Run', 'Setup'],
    }),
    savePurchases: build.mutation<SetupCosts, { setupId: string; version: number; lines: readonly PurchaseLineDto[] }>({
      query: ({ setupId, ...body }) => requestTo('savePurchases', { params: { id: setupId }, body }),
      transformResponse: answerOf('savePurchases'),
      invalidatesTags: ['Money'],
    }),
    listReports: build.query<Report[], void>({
      query: () => requestTo('listReports'),
      transformResponse: answerOf('listReports'),
      providesTags: ['Report'],
    }),
    previewReport: build.mutation<{ html: string }, ReportSpec>({
      query: (body) => requestTo('previewReport', { body }),
      transformResponse: answerOf('previewReport'),
    }),
    issueReport: build.mutation<Report, { spec: ReportSpec; by: string; follows: string | null }>({
      query: (body) => requestTo('issueReport', { body }),
      transformResponse: answerOf('issueReport'),
      invalidatesTags: ['Report'],
    }),
    lookAtPackage: build.mutation<PackageLook, File>({
      query: (file) => requestTo('lookAtPackage', { form: { file } }),
      transformResponse: answerOf('lookAtPackage'),
    }),
    takePackageIn: build.mutation<PackageImported, { id: string; take: readonly { table: string; key: string }[] }>({
      query: ({ id, take }) => requestTo('takePackageIn', { params: { id }, body: { take } }),
      transformResponse: answerOf('takePackageIn'),
      // It may have brought anything.
      invalidatesTags: [...TAGS],
    }),
    listPrepared: build.query<PreparedPackage[], void>({
      query: () => requestTo('listPreparedPackages'),
      transformResponse: answerOf('listPreparedPackages'),
      providesTags: ['Package'],
    }),
    preparePackage: build.mutation<PreparedPackage, PackageOrder>({
      query: (body) => requestTo('preparePackage', { body }),
      transformResponse: answerOf('preparePackage'),
      invalidatesTags: ['Package'],
    }),
    dropPrepared: build.mutation<void, string>({
      query: (id) => requestTo('dropPreparedPackage', { params: { id } }),
      transformResponse: answerOf('dropPreparedPackage'),
      invalidatesTags: ['Package'],
    }),
    dropPackage: build.mutation<void, string>({
      query: (id) => requestTo('dropPackage', { params: { id } }),
      transformResponse: answerOf('dropPackage'),
    }),
  }),
});
export const {
  useListUsesQuery,
  useSaveUseMutation,
  useArchiveUseMutation,
  useWeighUpQuery,
  useGetMoneyBookQuery,
  useSaveMoneyBookMutation,
  useCostsOfSetupQuery,
  useSavePurchasesMutation,
  useListReportsQuery,
  usePreviewReportMutation,
  useIssueReportMutation,
  useLookAtPackageMutation,
  useTakePackageInMutation,
  useListPreparedQuery,
  usePreparePackageMutation,
  useDropPreparedMutation,
  useDropPackageMutation,
} = decideApi;
