import {
  inspectionSchema,
  quickLookLogSchema,
  quickLookTableSchema,
  tableColumnsSchema,
  type Inspection,
  type QuickLookLog,
  type QuickLookTable,
} from '@ebrix/contract';
import type { z } from 'zod';
import { baseApi, checked } from '../../shared/api/base-api.js';

function form(fields: Readonly<Record<string, string | File | undefined>>): FormData {
  const body = new FormData();
  for (const [name, value] of Object.entries(fields)) if (value !== undefined && value !== '') body.append(name, value);
  return body;
}

export const quickLookApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    lookAtLog: build.mutation<QuickLookLog, { file: File; test?: string; context?: string }>({
      query: (fields) => ({ url: 'quick-look/log', method: 'POST', body: form(fields) }),
      transformResponse: checked(quickLookLogSchema),
    }),
    logColumns: build.mutation<Inspection, File>({
      query: (file) => ({ url: 'quick-look/log/columns', method: 'POST', body: form({ file }) }),
      transformResponse: checked(inspectionSchema),
    }),
    tableColumns: build.mutation<z.output<typeof tableColumnsSchema>, File>({
      query: (file) => ({ url: 'quick-look/table/columns', method: 'POST', body: form({ file }) }),
      transformResponse: checked(tableColumnsSchema),
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
      query: (fields) => ({ url: 'quick-look/table', method: 'POST', body: form(fields) }),
      transformResponse: checked(quickLookTableSchema),
    }),
  }),
});
export const { useLookAtLogMutation, useLogColumnsMutation, useTableColumnsMutation, useLookAtTableMutation } =
  quickLookApi;
