export { ColumnMapping, openQuestions, resolvedMapping } from './ColumnMapping.js';
