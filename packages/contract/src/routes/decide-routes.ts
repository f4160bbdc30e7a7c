import { archiveInputSchema } from '../common.js';
import {
  quickWeighUpSchema,
  useChangeSchema,
  useInputSchema,
  useSchema,
  weighedSchema,
  weighUpRequestSchema,
  weighUpSchema,
} from '../decide.js';
import { packageImportedSchema, packageLookSchema, packageQuerySchema, packageTakeSchema } from '../data-package.js';
import {
  elsewhereInputSchema,
  elsewhereSchema,
  foundElsewhereSchema,
  metaAnalysisSchema,
  quickMetaAnalysisSchema,
} from '../elsewhere.js';
import { moneyBookPutSchema, purchasesPutSchema, setupCostsSchema, storedMoneyBookSchema } from '../money.js';
import { reportIssueSchema, reportPreviewSchema, reportSchema, reportSpecSchema } from '../reports.js';
import type { Route } from './route.js';

/** Uses, weighing up, money, reports and data packages. */
export const decideRoutes = {
  listUses: { method: 'get', path: 'uses', summary: 'All uses that setups are weighed for', answer: useSchema.array() },
  getUse: { method: 'get', path: 'uses/{id}', summary: 'One use', answer: useSchema },
  addUse: { method: 'post', path: 'uses', summary: 'Add a use', body: useInputSchema, answer: useSchema },
  changeUse: { method: 'put', path: 'uses/{id}', summary: 'Change a use', body: useChangeSchema, answer: useSchema },
  archiveUse: {
    method: 'put',
    path: 'uses/{id}/archive',
    summary: 'Archive or restore a use',
    body: archiveInputSchema,
    answer: useSchema,
  },
  deleteUse: { method: 'delete', path: 'uses/{id}', summary: 'Delete a use', answer: null },
  weighUp: {
    method: 'post',
    path: 'weigh-up',
    access: 'reader',
    summary: 'How setups stand for a use: chances of being best, bounds broken, what would turn it',
    body: weighUpRequestSchema,
    answer: weighUpSchema,
  },
  quickWeighUp: {
    method: 'post',
    path: 'quick-look/weigh-up',
    access: 'reader',
    summary: 'The same on numbers of one’s own; nothing is stored',
    body: quickWeighUpSchema,
    answer: weighedSchema,
  },
  getMoneyBook: {
    method: 'get',
    path: 'money',
    summary: 'Currency, rates, electricity, wear and alternatives, for all setups',
    answer: storedMoneyBookSchema,
  },
  saveMoneyBook: {
    method: 'put',
    path: 'money',
    summary: 'Store them',
    body: moneyBookPutSchema,
    answer: storedMoneyBookSchema,
  },
  costsOfSetup: {
    method: 'get',
    path: 'setups/{id}/costs',
    summary: 'What a setup costs: purchases, 100 km, and from when it has paid',
    answer: setupCostsSchema,
  },
  savePurchases: {
    method: 'put',
    path: 'setups/{id}/purchases',
    summary: 'Store the purchase list of a setup',
    body: purchasesPutSchema,
    answer: setupCostsSchema,
  },
  getElsewhere: {
    method: 'get',
    path: 'trials/{id}/elsewhere',
    summary: 'What other testers found of the pairs of a trial, beside its own answer',
    answer: elsewhereSchema,
  },
  addElsewhere: {
    method: 'post',
    path: 'trials/{id}/elsewhere',
    summary: 'Add what another tester found',
    body: elsewhereInputSchema,
    answer: elsewhereSchema,
  },
  deleteElsewhere: { method: 'delete', path: 'elsewhere/{id}', summary: 'Take it out again', answer: null },
  readElsewhere: {
    method: 'post',
    path: 'elsewhere/package',
    summary: 'What the data package of another tester says of its trials; nothing is stored',
    multipart: ['file'],
    answer: foundElsewhereSchema.array(),
  },
  quickMetaAnalysis: {
    method: 'post',
    path: 'quick-look/meta-analysis',
    access: 'reader',
    summary: 'Random-effects meta-analysis of studies; nothing is stored',
    body: quickMetaAnalysisSchema,
    answer: metaAnalysisSchema,
  },
  listReports: { method: 'get', path: 'reports', summary: 'Issued reports', answer: reportSchema.array() },
  issueReport: {
    method: 'post',
    path: 'reports',
    summary: 'Issue a report: frozen with number, day and fingerprint',
    body: reportIssueSchema,
    answer: reportSchema,
  },
  previewReport: {
    method: 'post',
    path: 'reports/preview',
    access: 'reader',
    summary: 'A report as it would be issued now',
    body: reportSpecSchema,
    answer: reportPreviewSchema,
  },
  getReportHtml: {
    method: 'get',
    path: 'reports/{id}/html',
    summary: 'An issued report as one HTML file',
    answer: 'text/html',
  },
  getPackage: {
    method: 'get',
    path: 'package',
    summary: 'Everything, a trial or some runs as a data package (zip)',
    query: packageQuerySchema,
    answer: 'application/zip',
  },
  getWorkbook: {
    method: 'get',
    path: 'package/workbook',
    summary: 'Runs, figures and comparisons as one spreadsheet (XLSX)',
    answer: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  },
  lookAtPackage: {
    method: 'post',
    path: 'package',
    summary: 'Check a data package and say what it would bring; nothing is stored yet',
    multipart: ['file'],
    answer: packageLookSchema,
  },
  takePackageIn: {
    method: 'post',
    path: 'package/{id}/import',
    summary: 'Take a data package in: all or nothing',
    body: packageTakeSchema,
    answer: packageImportedSchema,
  },
  dropPackage: { method: 'delete', path: 'package/{id}', summary: 'Forget a data package', answer: null },
} as const satisfies Record<string, Route>;
