import Papa from 'papaparse';
import { columnOf, NOTEBOOK_COLUMNS, type NotebookCells, type NotebookKey } from './columns.js';

export interface NotebookTable {
  readonly rows: readonly NotebookCells[];
  /** Headers that mean nothing to a notebook; their cells were left aside. */
  readonly unknown: readonly string[];
  /** The header names miles. */
  readonly isImperial: boolean;
}

/** Columns in which rows without a header are taken. */
const WITHOUT_HEADER = NOTEBOOK_COLUMNS.filter((column) => 'isUsual' in column).map(({ key }) => key);

/** Rows out of a table whose first row may name the columns. Empty rows are left out; never throws. */
export function readNotebookTable(table: readonly (readonly string[])[]): NotebookTable {
  const filled = table.filter((row) => row.some((cell) => cell.trim() !== ''));
  const named = (filled[0] ?? []).map((cell) => columnOf(cell));
  const isHeader = named.filter((column) => column !== null).length >= 2;
  const keys: readonly (NotebookKey | undefined)[] = isHeader ? named.map((column) => column?.key) : WITHOUT_HEADER;
  return {
    rows: (isHeader ? filled.slice(1) : filled).map((row) => {
      const cells: Partial<Record<NotebookKey, string>> = {};
      row.forEach((cell, k) => {
        const key = keys[k];
        if (key !== undefined && cells[key] === undefined) cells[key] = cell.trim();
      });
      return cells;
    }),
    unknown: isHeader ? filled[0]!.filter((cell, k) => named[k] === null && cell.trim() !== '') : [],
    isImperial: isHeader && named.some((column) => column !== null && /^(mi|mph|miles)$/.test(column.unit)),
  };
}

/** A pasted piece of a spreadsheet or a file of separated values, as rows of cells. */
export function splitPasted(text: string): string[][] {
  const { data } = Papa.parse<string[]>(text.replace(/^\ufeff/, '').replace(/[\r\n]+$/, ''), {
    delimitersToGuess: ['\t', ';', ',', '|'],
  });
  return data;
}
