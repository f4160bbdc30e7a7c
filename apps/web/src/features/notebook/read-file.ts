import { splitPasted } from '@ebrix/core/notebook';

/** Rows of cells out of a spreadsheet or a text file. Fails: throws what the file's reader says. */
export async function readTableFile(file: File): Promise<string[][]> {
  if (/\.ods$/i.test(file.name)) {
    const { readOds } = await import('./read-ods.js');
    return readOds(new Uint8Array(await file.arrayBuffer()));
  }
  if (!/\.xlsx$/i.test(file.name)) return splitPasted(await file.text());
  const { default: readXlsxFile } = await import('read-excel-file/browser');
  const sheets = await readXlsxFile(file);
  const rows = sheets[0]?.data ?? [];
  return rows.map((row) => row.map(cellText));
}

function cellText(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (cell instanceof Date) return dateText(cell);
  return typeof cell === 'number' || typeof cell === 'string' || typeof cell === 'boolean' ? String(cell) : '';
}

/** Spreadsheets keep a time of day as a date of their first days. */
function dateText(date: Date): string {
  // A third of a day is not a whole number of seconds in a spreadsheet.
  const whole = new Date(1000 * Math.round(date.getTime() / 1000)).toISOString();
  const [day, time] = [whole.slice(0, 10), whole.slice(11, 19)];
  return date.getUTCFullYear() < 1905 ? time : day;
}
