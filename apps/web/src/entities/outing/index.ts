import { piece } from '../../shared/ui/piece.js';

export const outingForm = piece(async () => (await import('./OutingForm.js')).OutingForm);
export { useListOutingsQuery, useSaveOutingMutation } from './api.js';
