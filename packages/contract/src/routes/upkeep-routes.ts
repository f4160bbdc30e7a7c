import { z } from 'zod';
import { backupListSchema, backupSchema, loadSchema, trashEntrySchema } from '../upkeep.js';
import type { Route } from './route.js';

/** What keeps an installation safe. */
export const upkeepRoutes = {
  getLoad: {
    method: 'get',
    path: 'upkeep/load',
    summary: 'How the server is doing: threads, jobs, disk, since when it runs',
    answer: loadSchema,
  },
  listBackups: {
    method: 'get',
    path: 'upkeep/backups',
    summary: 'Backups that are there, newest first',
    answer: backupListSchema,
  },
  makeBackup: {
    method: 'post',
    path: 'upkeep/backups',
    summary: 'Make a backup now',
    access: 'owner',
    answer: backupSchema,
  },
  getBackup: {
    method: 'get',
    path: 'upkeep/backups/{name}',
    summary: 'A backup as a file',
    access: 'owner',
    answer: 'application/octet-stream',
  },
  listTrash: {
    method: 'get',
    path: 'upkeep/trash',
    summary: 'What was deleted within the last month, newest first',
    answer: z.array(trashEntrySchema),
  },
  bringBack: {
    method: 'post',
    path: 'upkeep/trash/{id}/restore',
    summary: 'Bring back what was deleted, with all that went with it',
    answer: null,
  },
  dropFromTrash: {
    method: 'delete',
    path: 'upkeep/trash/{id}',
    summary: 'Delete for good',
    access: 'owner',
    answer: null,
  },
} as const satisfies Readonly<Record<string, Route>>;
