import { ROUTES, tableColumnsSchema, type Inspection, type QuickLookLog, type QuickLookTable } from '@ebrix/contract';
import type { z } from 'zod';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const quickLookApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    lookAtLog: build.mutation<QuickLookLog, { file: File; test?: string; context?: string }>({
      query: (fields) => requestTo(ROUTES.lookAtLog, { form: fields }),
      transformResponse: answerOf(ROUTES.lookAtLog),
    }),
    logColumns: build.mutation<Inspection, File>({
      query: (file) => requestTo(ROUTES.logColumns, { form: { file } }),
      transformResponse: answerOf(ROUTES.logColumns),
    }),
    tableColumns: build.mutation<z.output<typeof tableColumnsSchema>, File>({
      query: (file) => requestTo(ROUTES.tableColumns, { form: { file } }),
      transformResponse: answerOf(ROUTES.tableColumns),
    }),
    lookAtTable: build.mutation<
      QuickLookTable,
      {
        file: File;
        setup: string;
        value: string;
        block?: string;
        covariate?: string;
        smallestDifference: string;
        better: string;
      }
    >({
      query: (fields) => requestTo(ROUTES.lookAtTable, { form: fields }),
      transformResponse: answerOf(ROUTES.lookAtTable),
    }),
  }),
});
export const { useLookAtLogMutation, useLogColumnsMutation, useTableColumnsMutation, useLookAtTableMutation } =
  quickLookApi;
