import { piece } from '../../shared/ui/piece.js';

export const courseForm = piece(async () => (await import('./CourseForm.js')).CourseForm);
