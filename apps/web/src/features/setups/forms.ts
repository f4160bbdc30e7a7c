import { piece } from '../../shared/ui/piece.js';

export const thumbRulesForm = piece(async () => (await import('./ThumbRulesForm.js')).ThumbRulesForm);
