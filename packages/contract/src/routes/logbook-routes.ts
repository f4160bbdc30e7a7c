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
    method: 'get',
    path: 'logbook/entries',
    summary: 'What was written down of bikes in use, newest day first',
    query: entriesQuerySchema,
    answer: entriesPageSchema,
  },
  addEntries: {
    method: 'post',
    path: 'logbook/entries',
    summary: 'Write entries down, all or none; ids are the sender’s own, so that sending twice is once',
    body: entriesPostSchema,
    answer: entriesStoredSchema,
  },
  changeEntry: {
    method: 'put',
    path: 'logbook/entries/{id}',
    summary: 'Change an entry',
    body: entryChangeSchema,
    answer: logEntrySchema,
  },
  deleteEntry: {
    method: 'delete',
    path: 'logbook/entries/{id}',
    summary: 'Delete an entry',
    query: versionQuerySchema,
    answer: null,
  },
  lifeOfSetup: {
    method: 'get',
    path: 'setups/{id}/life',
    summary: 'A setup in use: distance, faults, wear, what is due, pack, follow-ups',
    answer: lifeSchema,
  },
  lifeOfBike: {
    method: 'get',
    path: 'bikes/{id}/life',
    summary: 'The same of a bike, whatever is fitted',
    answer: lifeSchema,
  },
  lifeOfConversion: {
    method: 'get',
    path: 'conversions/{id}/life',
    summary: 'The same of a conversion out of sight',
    answer: lifeSchema,
  },
  dueEverywhere: {
    method: 'get',
    path: 'logbook/due',
    summary: 'What is due on all bikes, and who is to be asked again',
    answer: dueListSchema,
  },
  serviceCalendar: {
    method: 'get',
    path: 'logbook/service.ics',
    summary: 'The same as a calendar to save or subscribe to (iCalendar)',
    answer: 'text/calendar',
  },
  reliability: {
    method: 'get',
    path: 'logbook/reliability',
    summary: 'Faults per 1 000 km over all conversions, trends and lives of parts',
    query: reliabilityQuerySchema,
    answer: reliabilitySchema,
  },
  quickReliability: {
    method: 'post',
    path: 'quick-look/reliability',
    access: 'reader',
    summary: 'The same on numbers of one’s own; nothing is stored',
    body: quickReliabilitySchema,
    answer: reliabilitySchema,
  },
  logbookSettings: {
    method: 'get',
    path: 'logbook/settings',
    summary: 'Service intervals, when riders are asked again, and when a pack is at its end',
    answer: logbookSettingsSchema,
  },
  saveLogbookSettings: {
    method: 'put',
    path: 'logbook/settings',
    summary: 'Store them',
    body: logbookSettingsSchema,
    answer: logbookSettingsSchema,
  },
  listConversions: {
    method: 'get',
    path: 'conversions',
    summary: 'Conversions that are out of sight',
    answer: conversionSchema.array(),
  },
  addConversion: {
    method: 'post',
    path: 'conversions',
    summary: 'Add a conversion that is out of sight',
    body: conversionInputSchema,
    answer: conversionSchema,
  },
  changeConversion: {
    method: 'put',
    path: 'conversions/{id}',
    summary: 'Change it',
    body: conversionChangeSchema,
    answer: conversionSchema,
  },
  archiveConversion: {
    method: 'put',
    path: 'conversions/{id}/archive',
    summary: 'Archive or restore it',
    body: archiveInputSchema,
    answer: conversionSchema,
  },
} as const satisfies Record<string, Route>;
