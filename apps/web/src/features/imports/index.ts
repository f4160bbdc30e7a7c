export { AssignmentFields } from './AssignmentFields.js';
export { ColumnMapping, openQuestions, settledMapping } from './ColumnMapping.js';
