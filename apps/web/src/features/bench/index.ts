export { useListPartsQuery } from './api.js';
export { BenchPlaces } from './BenchPlaces.js';
export {
  choiceLabel,
  CHEMISTRY_NAMES,
  labelOf,
  MOTOR_KINDS,
  PLACES,
  type Choice,
  type PartField,
} from './part-fields.js';
export { FieldInput } from './FieldInput.js';
export { partRows, partValueText, type ShownAs } from './part-text.js';
export { PartForm } from './PartForm.js';
