export { useGetRunQuery, useListRunsQuery } from './api.js';
export { CleaningReport, cleaningSentences } from './CleaningReport.js';
export { Derivation } from './Derivation.js';
export { FigureStrip, FigureTable } from './FigureStrip.js';
