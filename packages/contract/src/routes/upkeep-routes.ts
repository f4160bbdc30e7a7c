import { ADDRESSES } from '../addresses.js';
import { z } from 'zod';
import { backupListSchema, backupSchema, loadSchema, trashEntrySchema } from '../upkeep.js';
import type { Route } from './route.js';

/** What keeps an installation safe. */
export const upkeepRoutes = {
  getLoad: {
    ...ADDRESSES.getLoad,
    summary: 'How the server is doing: threads, jobs, disk, since when it runs',
    answer: loadSchema,
  },
  listBackups: {
    ...ADDRESSES.listBackups,
    summary: 'Backups that are there, newest first',
    answer: backupListSchema,
  },
  makeBackup: {
    ...ADDRESSES.makeBackup,
    summary: 'Make a backup now',
    access: 'owner',
    answer: backupSchema,
  },
  getBackup: {
    ...ADDRESSES.getBackup,
    summary: 'A backup as a file',
    access: 'owner',
    answer: 'application/octet-stream',
  },
  listTrash: {
    ...ADDRESSES.listTrash,
    summary: 'What was deleted within the last month, newest first',
    answer: z.array(trashEntrySchema),
  },
  bringBack: {
    ...ADDRESSES.bringBack,
    summary: 'Bring back what was deleted, with all that went with it',
    answer: null,
  },
  dropFromTrash: {
    ...ADDRESSES.dropFromTrash,
    summary: 'Delete for good',
    access: 'owner',
    answer: null,
  },
} as const satisfies Readonly<Record<string, Route>>;
