import { piece } from '../../shared/ui/piece.js';

export const partForm = piece(async () => (await import('./PartForm.js')).PartForm);
export { BenchPlaces } from './BenchPlaces.js';
export { FieldInput } from './FieldInput.js';
export { useArchivePartMutation, useDeletePartMutation, useImportPartsMutation, useListPartsQuery } from './api.js';
export { CHEMISTRY_NAMES, MOTOR_KINDS, type PartField, PLACES } from './field.js';
export { choiceLabel, fieldsOf, PART_FORMS } from './part-fields.js';
export { partRows, partValueText } from './part-text.js';
export { valueAt } from './part-values.js';
