export { columnOf, NOTEBOOK_COLUMNS, type NotebookCells, type NotebookColumn, type NotebookKey } from './columns.js';
export { readNotebookTable, splitPasted, type NotebookTable } from './read-table.js';
export {
  readNotebookRide,
  type CellProblem,
  type NotebookOptions,
  type NotebookRide,
  type ReadNotebookRide,
} from './read-ride.js';
