import { ADDRESSES } from '../addresses.js';
import { archiveInputSchema, seenQuerySchema } from '../common.js';
import {
  quickWeighUpSchema,
  useChangeSchema,
  useInputSchema,
  useSchema,
  weighedSchema,
  weighUpRequestSchema,
  weighUpSchema,
} from '../decide.js';
import {
  packageImportedSchema,
  packageLookSchema,
  packageOrderSchema,
  packageQuerySchema,
  packageTakeSchema,
  preparedPackageSchema,
} from '../data-package.js';
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
  listUses: { ...ADDRESSES.listUses, summary: 'All uses that setups are weighed for', answer: useSchema.array() },
  getUse: { ...ADDRESSES.getUse, summary: 'One use', answer: useSchema },
  addUse: { ...ADDRESSES.addUse, summary: 'Add a use', body: useInputSchema, answer: useSchema },
  changeUse: { ...ADDRESSES.changeUse, summary: 'Change a use', body: useChangeSchema, answer: useSchema },
  archiveUse: {
    ...ADDRESSES.archiveUse,
    summary: 'Archive or restore a use',
    body: archiveInputSchema,
    answer: useSchema,
  },
  deleteUse: { ...ADDRESSES.deleteUse, summary: 'Delete a use', query: seenQuerySchema, answer: null },
  weighUp: {
    ...ADDRESSES.weighUp,
    access: 'reader',
    summary: 'How setups stand for a use: chances of being best, bounds broken, what would turn it',
    body: weighUpRequestSchema,
    answer: weighUpSchema,
  },
  quickWeighUp: {
    ...ADDRESSES.quickWeighUp,
    access: 'reader',
    summary: 'The same on numbers of one’s own; nothing is stored',
    body: quickWeighUpSchema,
    answer: weighedSchema,
  },
  getMoneyBook: {
    ...ADDRESSES.getMoneyBook,
    summary: 'Currency, rates, electricity, wear and alternatives, for all setups',
    answer: storedMoneyBookSchema,
  },
  saveMoneyBook: {
    ...ADDRESSES.saveMoneyBook,
    summary: 'Store them',
    body: moneyBookPutSchema,
    answer: storedMoneyBookSchema,
  },
  costsOfSetup: {
    ...ADDRESSES.costsOfSetup,
    summary: 'What a setup costs: purchases, 100 km, and from when it has paid',
    answer: setupCostsSchema,
  },
  savePurchases: {
    ...ADDRESSES.savePurchases,
    summary: 'Store the purchase list of a setup',
    body: purchasesPutSchema,
    answer: setupCostsSchema,
  },
  getElsewhere: {
    ...ADDRESSES.getElsewhere,
    summary: 'What other testers found of the pairs of a trial, beside its own answer',
    answer: elsewhereSchema,
  },
  addElsewhere: {
    ...ADDRESSES.addElsewhere,
    summary: 'Add what another tester found',
    body: elsewhereInputSchema,
    answer: elsewhereSchema,
  },
  deleteElsewhere: { ...ADDRESSES.deleteElsewhere, summary: 'Take it out again', answer: null },
  readElsewhere: {
    ...ADDRESSES.readElsewhere,
    summary: 'What the data package of another tester says of its trials; nothing is stored',
    multipart: ['file'],
    answer: foundElsewhereSchema.array(),
  },
  quickMetaAnalysis: {
    ...ADDRESSES.quickMetaAnalysis,
    access: 'reader',
    summary: 'Random-effects meta-analysis of studies; nothing is stored',
    body: quickMetaAnalysisSchema,
    answer: metaAnalysisSchema,
  },
  listReports: { ...ADDRESSES.listReports, summary: 'Issued reports', answer: reportSchema.array() },
  issueReport: {
    ...ADDRESSES.issueReport,
    summary: 'Issue a report: frozen with number, day and fingerprint',
    body: reportIssueSchema,
    answer: reportSchema,
  },
  previewReport: {
    ...ADDRESSES.previewReport,
    access: 'reader',
    summary: 'A report as it would be issued now',
    body: reportSpecSchema,
    answer: reportPreviewSchema,
  },
  getReportHtml: {
    ...ADDRESSES.getReportHtml,
    summary: 'An issued report as one HTML file',
    answer: 'text/html',
  },
  getPackage: {
    ...ADDRESSES.getPackage,
    summary: 'Everything, a trial or some runs as a data package (zip)',
    query: packageQuerySchema,
    answer: 'application/zip',
  },
  listPreparedPackages: {
    ...ADDRESSES.listPreparedPackages,
    summary: 'Data packages that are being made or were made within a day',
    answer: preparedPackageSchema.array(),
  },
  preparePackage: {
    ...ADDRESSES.preparePackage,
    access: 'reader',
    summary: 'Make a data package on the server: its progress is seen, and its download can go on where it broke off',
    body: packageOrderSchema,
    answer: preparedPackageSchema,
  },
  getPreparedPackage: {
    ...ADDRESSES.getPreparedPackage,
    summary: 'A data package that was made (zip); ranges are answered',
    answer: 'application/zip',
  },
  dropPreparedPackage: {
    ...ADDRESSES.dropPreparedPackage,
    access: 'reader',
    summary: 'Stop making it, or drop what was made',
    answer: null,
  },
  getWorkbook: {
    ...ADDRESSES.getWorkbook,
    summary: 'Runs, figures and comparisons as one spreadsheet (XLSX)',
    answer: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  },
  lookAtPackage: {
    ...ADDRESSES.lookAtPackage,
    summary: 'Check a data package and say what it would bring; nothing is stored yet',
    multipart: ['file'],
    answer: packageLookSchema,
  },
  takePackageIn: {
    ...ADDRESSES.takePackageIn,
    summary: 'Take a data package in: all or nothing',
    body: packageTakeSchema,
    answer: packageImportedSchema,
  },
  dropPackage: { ...ADDRESSES.dropPackage, summary: 'Forget a data package', answer: null },
} as const satisfies Record<string, Route>;
