import { ADDRESSES } from '../addresses.js';
import { versionQuerySchema, archiveInputSchema } from '../common.js';
import {
  conversionChangeSchema,
  conversionInputSchema,
  conversionSchema,
  entriesPageSchema,
  entriesPostSchema,
  entriesQuerySchema,
  entriesStoredSchema,
  entryChangeSchema,
  logbookSettingsSchema,
  logEntrySchema,
} from '../logbook.js';
import {
  dueListSchema,
  lifeSchema,
  quickReliabilitySchema,
  reliabilityQuerySchema,
  reliabilitySchema,
} from '../life.js';
import type { Route } from './route.js';

/** Life after fitting. */
export const logbookRoutes = {
  listEntries: {
    ...ADDRESSES.listEntries,
    summary: 'What was written down of bikes in use, newest day first',
    query: entriesQuerySchema,
    answer: entriesPageSchema,
  },
  addEntries: {
    ...ADDRESSES.addEntries,
    summary: 'Write entries down, all or none; ids are the sender’s own, so that sending twice is once',
    body: entriesPostSchema,
    answer: entriesStoredSchema,
  },
  changeEntry: {
    ...ADDRESSES.changeEntry,
    summary: 'Change an entry',
    body: entryChangeSchema,
    answer: logEntrySchema,
  },
  deleteEntry: {
    ...ADDRESSES.deleteEntry,
    summary: 'Delete an entry',
    query: versionQuerySchema,
    answer: null,
  },
  lifeOfSetup: {
    ...ADDRESSES.lifeOfSetup,
    summary: 'A setup in use: distance, faults, wear, what is due, pack, follow-ups',
    answer: lifeSchema,
  },
  lifeOfBike: {
    ...ADDRESSES.lifeOfBike,
    summary: 'The same of a bike, whatever is fitted',
    answer: lifeSchema,
  },
  lifeOfConversion: {
    ...ADDRESSES.lifeOfConversion,
    summary: 'The same of a conversion out of sight',
    answer: lifeSchema,
  },
  dueEverywhere: {
    ...ADDRESSES.dueEverywhere,
    summary: 'What is due on all bikes, and who is to be asked again',
    answer: dueListSchema,
  },
  serviceCalendar: {
    ...ADDRESSES.serviceCalendar,
    summary: 'The same as a calendar to save or subscribe to (iCalendar)',
    answer: 'text/calendar',
  },
  reliability: {
    ...ADDRESSES.reliability,
    summary: 'Faults per 1 000 km over all conversions, trends and lives of parts',
    query: reliabilityQuerySchema,
    answer: reliabilitySchema,
  },
  quickReliability: {
    ...ADDRESSES.quickReliability,
    access: 'reader',
    summary: 'The same on numbers of one’s own; nothing is stored',
    body: quickReliabilitySchema,
    answer: reliabilitySchema,
  },
  logbookSettings: {
    ...ADDRESSES.logbookSettings,
    summary: 'Service intervals, when riders are asked again, and when a pack is at its end',
    answer: logbookSettingsSchema,
  },
  saveLogbookSettings: {
    ...ADDRESSES.saveLogbookSettings,
    summary: 'Store them',
    body: logbookSettingsSchema,
    answer: logbookSettingsSchema,
  },
  listConversions: {
    ...ADDRESSES.listConversions,
    summary: 'Conversions that are out of sight',
    answer: conversionSchema.array(),
  },
  addConversion: {
    ...ADDRESSES.addConversion,
    summary: 'Add a conversion that is out of sight',
    body: conversionInputSchema,
    answer: conversionSchema,
  },
  changeConversion: {
    ...ADDRESSES.changeConversion,
    summary: 'Change it',
    body: conversionChangeSchema,
    answer: conversionSchema,
  },
  archiveConversion: {
    ...ADDRESSES.archiveConversion,
    summary: 'Archive or restore it',
    body: archiveInputSchema,
    answer: conversionSchema,
  },
} as const satisfies Record<string, Route>;
