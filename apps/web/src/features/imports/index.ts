export { AssignmentFields } from './AssignmentFields.js';
export { toAssignment, type AssignmentValues } from './to-assignment.js';
export { OutingForm } from './OutingForm.js';
export { ColumnMapping, openQuestions, resolvedMapping } from './ColumnMapping.js';
