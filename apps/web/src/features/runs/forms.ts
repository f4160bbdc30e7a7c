import { piece } from '../../shared/ui/piece.js';

/** What is opened on a run, or on several: each comes when it is asked for. */
export const excludeForm = piece(async () => (await import('./ExcludeForm.js')).ExcludeForm);
export const reassignForm = piece(async () => (await import('./ReassignForm.js')).ReassignForm);
export const splitRun = piece(async () => (await import('./SplitRun.js')).SplitRun);
export const correctRuns = piece(async () => (await import('./CorrectRuns.js')).CorrectRuns);
