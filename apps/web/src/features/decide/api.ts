import {
  ROUTES,
  type MoneyBook,
  type PackageImported,
  type PackageLook,
  type PackageOrder,
  type PreparedPackage,
  type PurchaseLineDto,
  type Report,
  type ReportSpec,
  type SetupCosts,
  type StoredMoneyBook,
  type UseDto,
  type UseInput,
  type WeighUp,
  type WeighUpRequest,
} from '@ebrix/contract';
import { baseApi, TAGS, type Versioned } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const decideApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listUses: build.query<UseDto[], void>({
      query: () => requestTo(ROUTES.listUses),
      transformResponse: answerOf(ROUTES.listUses),
      providesTags: ['Use'],
    }),
    saveUse: build.mutation<UseDto, { input: UseInput; stored?: Versioned }>({
      query: ({ input, stored }) =>
        stored
          ? requestTo(ROUTES.changeUse, { params: { id: stored.id }, body: { ...input, version: stored.version } })
          : requestTo(ROUTES.addUse, { body: input }),
      transformResponse: answerOf(ROUTES.changeUse),
      invalidatesTags: ['Use'],
    }),
    archiveUse: build.mutation<UseDto, { stored: Versioned; archived: boolean }>({
      query: ({ stored, archived }) =>
        requestTo(ROUTES.archiveUse, { params: { id: stored.id }, body: { version: stored.version, archived } }),
      transformResponse: answerOf(ROUTES.archiveUse),
      invalidatesTags: ['Use'],
    }),
    weighUp: build.query<WeighUp, WeighUpRequest>({
      query: (body) => requestTo(ROUTES.weighUp, { body }),
      transformResponse: answerOf(ROUTES.weighUp),
      providesTags: ['Run', 'Setup', 'Rating', 'Fitting', 'FittingRecord', 'Money'],
    }),
    getMoneyBook: build.query<StoredMoneyBook, void>({
      query: () => requestTo(ROUTES.getMoneyBook),
      transformResponse: answerOf(ROUTES.getMoneyBook),
      providesTags: ['Money'],
    }),
    saveMoneyBook: build.mutation<StoredMoneyBook, { version: number; book: MoneyBook }>({
      query: (body) => requestTo(ROUTES.saveMoneyBook, { body }),
      transformResponse: answerOf(ROUTES.saveMoneyBook),
      invalidatesTags: ['Money'],
    }),
    costsOfSetup: build.query<SetupCosts, string>({
      query: (setupId) => requestTo(ROUTES.costsOfSetup, { params: { id: setupId } }),
      transformResponse: answerOf(ROUTES.costsOfSetup),
      providesTags: ['Money', 'Run', 'Setup'],
    }),
    savePurchases: build.mutation<SetupCosts, { setupId: string; version: number; lines: readonly PurchaseLineDto[] }>({
      query: ({ setupId, ...body }) => requestTo(ROUTES.savePurchases, { params: { id: setupId }, body }),
      transformResponse: answerOf(ROUTES.savePurchases),
      invalidatesTags: ['Money'],
    }),
    listReports: build.query<Report[], void>({
      query: () => requestTo(ROUTES.listReports),
      transformResponse: answerOf(ROUTES.listReports),
      providesTags: ['Report'],
    }),
    previewReport: build.mutation<{ html: string }, ReportSpec>({
      query: (body) => requestTo(ROUTES.previewReport, { body }),
      transformResponse: answerOf(ROUTES.previewReport),
    }),
    issueReport: build.mutation<Report, { spec: ReportSpec; by: string; follows: string | null }>({
      query: (body) => requestTo(ROUTES.issueReport, { body }),
      transformResponse: answerOf(ROUTES.issueReport),
      invalidatesTags: ['Report'],
    }),
    lookAtPackage: build.mutation<PackageLook, File>({
      query: (file) => requestTo(ROUTES.lookAtPackage, { form: { file } }),
      transformResponse: answerOf(ROUTES.lookAtPackage),
    }),
    takePackageIn: build.mutation<PackageImported, { id: string; take: readonly { table: string; key: string }[] }>({
      query: ({ id, take }) => requestTo(ROUTES.takePackageIn, { params: { id }, body: { take } }),
      transformResponse: answerOf(ROUTES.takePackageIn),
      // It may have brought anything.
      invalidatesTags: [...TAGS],
    }),
    listPrepared: build.query<PreparedPackage[], void>({
      query: () => requestTo(ROUTES.listPreparedPackages),
      transformResponse: answerOf(ROUTES.listPreparedPackages),
      providesTags: ['Package'],
    }),
    preparePackage: build.mutation<PreparedPackage, PackageOrder>({
      query: (body) => requestTo(ROUTES.preparePackage, { body }),
      transformResponse: answerOf(ROUTES.preparePackage),
      invalidatesTags: ['Package'],
    }),
    dropPrepared: build.mutation<void, string>({
      query: (id) => requestTo(ROUTES.dropPreparedPackage, { params: { id } }),
      transformResponse: answerOf(ROUTES.dropPreparedPackage),
      invalidatesTags: ['Package'],
    }),
    dropPackage: build.mutation<void, string>({
      query: (id) => requestTo(ROUTES.dropPackage, { params: { id } }),
      transformResponse: answerOf(ROUTES.dropPackage),
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
