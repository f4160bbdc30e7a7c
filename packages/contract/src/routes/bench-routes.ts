import { ADDRESSES } from '../addresses.js';
import {
  clockInputSchema,
  findingInputSchema,
  findingSchema,
  fittingInputSchema,
  fittingSchema,
  fittingSummarySchema,
  saveFittingTemplateSchema,
  fittingTemplateSchema,
  markInputSchema,
  photoOwnerQuerySchema,
  photoSchema,
  standInputSchema,
  standRecordSchema,
  unmarkSchema,
} from '../before-riding.js';
import { archiveInputSchema, versionSchema, nameSchema, versioned, seenQuerySchema } from '../common.js';
import { fittingRecordPutSchema, storedFittingRecordSchema } from '../fitting-record.js';
import { ratingInputSchema, ratingSchema } from '../experience.js';
import { partImportSchema, partInputSchemas, partSchemas } from '../parts.js';
import {
  newSetupSchema,
  revisionInputSchema,
  setupDetailSchema,
  setupFileSchema,
  setupInputSchema,
  setupSchema,
  thumbRulesPutSchema,
  thumbRulesSchema,
} from '../setups.js';
import { z } from 'zod';
import type { Route } from './route.js';

const anyPart = z.union(Object.values(partSchemas));
const anyPartInput = z.union(Object.values(partInputSchemas));
const anyPartChange = z.looseObject({ version: versionSchema });

/** Parts, setups, checks, fitting, stand and photos; what riders say of them. */
export const benchRoutes = {
  listParts: { ...ADDRESSES.listParts, summary: 'All parts of a kind', answer: anyPart.array() },
  getPartsCsv: { ...ADDRESSES.getPartsCsv, summary: 'All parts of a kind as CSV', answer: 'text/csv' },
  addPart: { ...ADDRESSES.addPart, summary: 'Add a part', body: anyPartInput, answer: anyPart },
  importParts: {
    ...ADDRESSES.importParts,
    summary: 'Add or change parts by name from a CSV file with the columns of the CSV export',
    multipart: ['file'],
    answer: partImportSchema,
  },
  changePart: {
    ...ADDRESSES.changePart,
    summary: 'Change a part',
    body: anyPartChange,
    answer: anyPart,
  },
  archivePart: {
    ...ADDRESSES.archivePart,
    summary: 'Archive or restore a part',
    body: archiveInputSchema,
    answer: anyPart,
  },
  deletePart: {
    ...ADDRESSES.deletePart,
    summary: 'Delete a part that nothing uses',
    query: seenQuerySchema,
    answer: null,
  },
  listSetups: {
    ...ADDRESSES.listSetups,
    summary: 'All setups with their revisions',
    answer: setupSchema.array(),
  },
  getSetup: {
    ...ADDRESSES.getSetup,
    summary: 'One setup with the parts of every revision as they were',
    answer: setupDetailSchema,
  },
  addSetup: {
    ...ADDRESSES.addSetup,
    summary: 'Add a setup with its first revision',
    body: newSetupSchema,
    answer: setupDetailSchema,
  },
  importSetup: {
    ...ADDRESSES.importSetup,
    summary: 'Add a setup from a setup file',
    multipart: ['file'],
    answer: setupDetailSchema,
  },
  getSetupFile: {
    ...ADDRESSES.getSetupFile,
    summary: 'One setup with all its parts as one JSON file',
    answer: setupFileSchema,
  },
  getSetupJsonSchema: {
    ...ADDRESSES.getSetupJsonSchema,
    summary: 'JSON Schema of a setup file',
    answer: z.looseObject({}),
  },
  changeSetup: {
    ...ADDRESSES.changeSetup,
    summary: 'Change name and notes of a setup',
    body: versioned(setupInputSchema),
    answer: setupDetailSchema,
  },
  archiveSetup: {
    ...ADDRESSES.archiveSetup,
    summary: 'Archive or restore a setup',
    body: archiveInputSchema,
    answer: setupDetailSchema,
  },
  deleteSetup: {
    ...ADDRESSES.deleteSetup,
    summary: 'Delete a setup that has no runs',
    query: seenQuerySchema,
    answer: null,
  },
  copySetup: {
    ...ADDRESSES.copySetup,
    summary: 'Duplicate a setup, without its runs and marks',
    body: z.strictObject({ name: nameSchema }),
    answer: setupDetailSchema,
  },
  addRevision: {
    ...ADDRESSES.addRevision,
    summary: 'Add a revision; 409 when another was added since the one it is based on',
    body: revisionInputSchema,
    answer: setupDetailSchema,
  },
  mark: {
    ...ADDRESSES.mark,
    summary: 'Pass checks, or waive them in writing; 409 when one of them is no longer as it was seen',
    body: markInputSchema,
    answer: setupDetailSchema,
  },
  unmark: {
    ...ADDRESSES.unmark,
    summary: 'Withdraw marks; 409 when one of them is no longer as it was seen',
    body: unmarkSchema,
    answer: setupDetailSchema,
  },
  thumbRules: { ...ADDRESSES.thumbRules, summary: 'Consumption by rule of thumb', answer: thumbRulesSchema },
  setThumbRules: {
    ...ADDRESSES.setThumbRules,
    summary: 'Change the rules of thumb; 409 when they are no longer those that were seen',
    body: thumbRulesPutSchema,
    answer: thumbRulesSchema,
  },
  stand: {
    ...ADDRESSES.stand,
    summary: 'Stand tests of a setup, newest revision first',
    answer: standRecordSchema.array(),
  },
  saveStand: {
    ...ADDRESSES.saveStand,
    summary: 'Record the stand test of a revision',
    body: standInputSchema,
    answer: standRecordSchema,
  },
  findings: {
    ...ADDRESSES.findings,
    summary: 'Trouble found on a setup',
    answer: findingSchema.array(),
  },
  addFinding: {
    ...ADDRESSES.addFinding,
    summary: 'Note a finding',
    body: findingInputSchema,
    answer: findingSchema.array(),
  },
  removeFinding: {
    ...ADDRESSES.removeFinding,
    summary: 'Remove a finding',
    answer: findingSchema.array(),
  },
  listFittings: {
    ...ADDRESSES.listFittings,
    summary: 'Time, tools and trouble of all fittings',
    answer: fittingSummarySchema.array(),
  },
  getFitting: {
    ...ADDRESSES.getFitting,
    summary: 'Fitting steps of a setup',
    answer: fittingSchema,
  },
  saveFitting: {
    ...ADDRESSES.saveFitting,
    summary: 'Store the fitting steps',
    body: fittingInputSchema,
    answer: fittingSchema,
  },
  setClock: {
    ...ADDRESSES.setClock,
    summary: 'Start or stop the clock of a step',
    body: clockInputSchema,
    answer: fittingSchema,
  },
  getFittingRecord: {
    ...ADDRESSES.getFittingRecord,
    summary: 'Box, wires, tools and what else was noted around the fitting',
    answer: storedFittingRecordSchema,
  },
  saveFittingRecord: {
    ...ADDRESSES.saveFittingRecord,
    summary: 'Store what was noted around the fitting; 409 when another window stored since',
    body: fittingRecordPutSchema,
    answer: storedFittingRecordSchema,
  },
  listTemplates: {
    ...ADDRESSES.listTemplates,
    summary: 'Your fitting templates',
    answer: fittingTemplateSchema.array(),
  },
  saveTemplate: {
    ...ADDRESSES.saveTemplate,
    summary: 'Save a fitting template; one of the same name is replaced where it is the one that was seen',
    body: saveFittingTemplateSchema,
    answer: fittingTemplateSchema.array(),
  },
  deleteTemplate: {
    ...ADDRESSES.deleteTemplate,
    summary: 'Delete a fitting template',
    answer: null,
  },
  listPhotos: {
    ...ADDRESSES.listPhotos,
    summary: 'Photos of a part or setup',
    query: photoOwnerQuerySchema,
    answer: photoSchema.array(),
  },
  addPhoto: {
    ...ADDRESSES.addPhoto,
    summary: 'Add a photo (JPEG, PNG or WebP); location data is removed, the size reduced',
    multipart: ['file', 'owner', 'ownerId', 'step', 'caption', 'id'],
    answer: photoSchema,
  },
  getPhotoImage: { ...ADDRESSES.getPhotoImage, summary: 'The picture', answer: 'image/jpeg' },
  removePhoto: {
    ...ADDRESSES.removePhoto,
    summary: 'Remove a photo; it can be restored for a week',
    answer: null,
  },
  restorePhoto: { ...ADDRESSES.restorePhoto, summary: 'Restore a removed photo', answer: null },
  ratingsOfSetup: {
    ...ADDRESSES.ratingsOfSetup,
    summary: 'What riders say of a setup, newest first',
    answer: ratingSchema.array(),
  },
  ratingsOfTrial: {
    ...ADDRESSES.ratingsOfTrial,
    summary: 'What riders say of the setups that a trial compares',
    answer: ratingSchema.array(),
  },
  addRating: {
    ...ADDRESSES.addRating,
    summary: 'Keep what a rider says of a setup, on anchored steps from 1 to 5',
    body: ratingInputSchema,
    answer: ratingSchema.array(),
  },
  removeRating: { ...ADDRESSES.removeRating, summary: 'Take a rating back', answer: null },
} as const satisfies Readonly<Record<string, Route>>;
