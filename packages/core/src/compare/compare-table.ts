import { CoreError } from '../errors/index.js';
import { tableNumber, type Table } from '../logs/index.js';
import { compareDesigned, type DesignedComparison, type DesignedRow } from './compare-designed.js';
import { compareSetups } from './compare-setups.js';
import type { Comparison, SmallestDifference } from './comparison.js';
import type { DesignKind } from './design/choose-design.js';
import { figureVocabulary } from './figure-vocabulary.js';

export interface TableColumns {
  readonly setup: string;
  readonly value: string;
  readonly block?: string;
  readonly covariate?: string;
  readonly group?: string;
}

export interface TableComparison {
  readonly comparison: Comparison;
  readonly verdict: string;
  readonly designed: DesignedComparison;
  readonly points: readonly { readonly setup: string; readonly value: number; readonly row: number }[];
  readonly skippedRows: readonly { readonly row: number; readonly reason: string }[];
}

const MAX_SETUPS = 12;

/**
 * Compares the setups of a table with one row per run.
 *
 * Rows without a setup or without a number are skipped, each with its row (from 1 after the header) and reason.
 * Fails: throws `unknown-column`, `ambiguous-column`, `too-many-setups` and what `compareSetups` throws.
 */
export function compareTable(
  table: Table,
  columns: TableColumns,
  options: {
    readonly smallestDifference: SmallestDifference;
    readonly better: 'less' | 'more';
    readonly seed: number;
    readonly resamples: number;
    readonly design?: DesignKind;
  },
): TableComparison {
  const index = (name: string): number => findColumn(table.columns, name);
  const at = {
    setup: index(columns.setup),
    value: index(columns.value),
    ...(columns.block !== undefined && { block: index(columns.block) }),
    ...(columns.covariate !== undefined && { covariate: index(columns.covariate) }),
    ...(columns.group !== undefined && { group: index(columns.group) }),
  };
  const rows: (DesignedRow & { row: number })[] = [];
  const skippedRows: { row: number; reason: string }[] = [];
  table.records.forEach((record, k) => {
    const setup = record[at.setup] ?? '';
    const value = tableNumber(record[at.value], table.decimal);
    const block = at.block === undefined ? undefined : record[at.block];
    const covariate = at.covariate === undefined ? undefined : tableNumber(record[at.covariate], table.decimal);
    const group = at.group === undefined ? undefined : record[at.group];
    const skip = (reason: string): void => void skippedRows.push({ row: k + 1, reason });
    if (setup === '') return skip(`no setup in column "${columns.setup}"`);
    if (!Number.isFinite(value))
      return skip(`"${(record[at.value] ?? '').slice(0, 40)}" in column "${columns.value}" is no number`);
    if (group === '') return skip(`nothing in column "${columns.group!}"`);
    if (block === '') return skip(`nothing in column "${columns.block!}"`);
    if (covariate !== undefined && !Number.isFinite(covariate))
      return skip(`no number in column "${columns.covariate!}"`);
    rows.push({
      row: k + 1,
      setup,
      value,
      ...(block !== undefined && { block }),
      ...(group !== undefined && { group }),
      ...(covariate !== undefined && { covariate }),
    });
  });
  const setups = [...new Set(rows.map(({ setup }) => setup))];
  if (setups.length > MAX_SETUPS)
    throw new CoreError(
      'too-many-setups',
      `Column "${columns.setup}" holds ${setups.length} different names; at most ${MAX_SETUPS} setups are compared. Is it the right column?`,
    );
  const comparison = compareSetups({
    setups: setups.map((name) => ({
      name,
      runs: rows.filter(({ setup }) => setup === name),
    })),
    smallestDifference: options.smallestDifference,
    words: figureVocabulary('', columns.value, options.better),
    unit: null,
    seed: options.seed,
    resamples: options.resamples,
    ...(options.design && { design: options.design }),
  });
  const designed = compareDesigned(rows, setups);
  return {
    comparison,
    verdict: comparison.sentences.join(' '),
    designed,
    points: rows.map(({ setup, value, row }) => ({ setup, value, row })),
    skippedRows,
  };
}

function findColumn(columns: readonly string[], name: string): number {
  const places = columns.flatMap((column, k) => (column === name.trim() ? [k] : []));
  if (places.length === 0)
    throw new CoreError(
      'unknown-column',
      `The table has no column "${name}". It has: ${columns.map((c) => `"${c}"`).join(', ')}.`,
    );
  if (places.length > 1)
    throw new CoreError(
      'ambiguous-column',
      `The table has ${places.length} columns called "${name}". Give them different names.`,
    );
  return places[0]!;
}
