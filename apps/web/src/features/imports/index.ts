export { AssignmentFields } from './AssignmentFields.js';
export { OutingForm } from './OutingForm.js';
export { ColumnMapping, openQuestions, settledMapping } from './ColumnMapping.js';
