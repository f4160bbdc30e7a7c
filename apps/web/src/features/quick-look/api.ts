import { tableColumnsSchema, type Inspection, type QuickLookLog, type QuickLookTable } from '@ebrix/contract';
import type { z } from 'zod';
import { baseApi } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const quickLookApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    lookAtLog: build.mutation<QuickLookLog, { file: File; test?: string; context?: string }>({
      query: (fields) => requestTo('lookAtLog', { form: fields }),
      transformResponse: answerOf('lookAtLog'),
    }),
    logColumns: build.mutation<Inspection, File>({
      query: (file) => requestTo('logColumns', { form: { file } }),
      transformResponse: answerOf('logColumns'),
    }),
    tableColumns: build.mutation<z.output<typeof tableColumnsSchema>, File>({
      query: (file) => requestTo('tableColumns', { form: { file } }),
      transformResponse: answerOf('tableColumns'),
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
      query: (fields) => requestTo('lookAtTable', { form: fields }),
      transformResponse: answerOf('lookAtTable'),
    }),
  }),
});
export const { useLookAtLogMutation, useLogColumnsMutation, useTableColumnsMutation, useLookAtTableMutation } =
  quickLookApi;
