import { piece } from '../../shared/ui/piece.js';

export const armRiding = piece(async () => (await import('./ArmRiding.js')).ArmRiding);
export const elsewhereForm = piece(async () => (await import('./ElsewhereForm.js')).ElsewhereForm);
