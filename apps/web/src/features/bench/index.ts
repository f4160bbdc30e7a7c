export { useListPartsQuery } from './api.js';
export { BenchPlaces } from './BenchPlaces.js';
export { PLACES, type PartField } from './field.js';
export { FieldInput } from './FieldInput.js';
export { choiceLabel } from './part-fields.js';
export { PartForm } from './PartForm.js';
export { partRows, partValueText } from './part-text.js';
