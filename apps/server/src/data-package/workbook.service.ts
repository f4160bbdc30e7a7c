import { Injectable } from '@nestjs/common';
import type { SheetData } from 'write-excel-file/node';
import { DerivedTables, type DerivedTable } from './derived-tables.js';

const SHEET_NAMES: Readonly<Record<string, string>> = {
  'runs-with-figures': 'Runs',
  verdicts: 'Comparison',
  'trial-runs': 'Runs of trials',
};
/** Name and unit stay in sight. */
const HEAD_ROWS = 2;

/** Runs, figures and comparisons for those who live in spreadsheets: typed cells, and what was typed elsewhere is text, never a formula. */
@Injectable()
export class WorkbookService {
  constructor(private readonly derived: DerivedTables) {}

  async workbook(): Promise<Buffer> {
    const tables = await this.derived.of(undefined, undefined);
    const sheets = await Promise.all(
      tables.map(async (table) => ({
        data: await sheetOf(table),
        sheet: SHEET_NAMES[table.name] ?? table.name,
        stickyRowsCount: HEAD_ROWS,
      })),
    );
    // Loaded when the first one is asked for.
    const { default: writeExcelFile } = await import('write-excel-file/node');
    return writeExcelFile(sheets).toBuffer();
  }
}

async function sheetOf({ fields, rows }: DerivedTable): Promise<SheetData> {
  const data: SheetData = [
    fields.map(({ name }) => ({ value: name.replaceAll('_', ' '), fontWeight: 'bold' })),
    fields.map(({ unit = '' }) => ({ value: unit })),
  ];
  for await (const row of rows())
    data.push(
      row.map((text, k) => {
        if (text === '') return null;
        const { type } = fields[k]!;
        if (type === 'number' || type === 'integer') return { value: Number(text), type: Number };
        return type === 'boolean' ? { value: text === 'true', type: Boolean } : { value: text, type: String };
      }),
    );
  return data;
}
