export { useGetRunQuery, useListRunsQuery } from './api.js';
export { CleaningReport, cleaningSentences } from './CleaningReport.js';
export { Derivation } from './Derivation.js';
export { FigureStrip, FigureTable } from './FigureStrip.js';
export { CourseRuns } from './CourseRuns.js';
export { SetupFigures } from './SetupFigures.js';
