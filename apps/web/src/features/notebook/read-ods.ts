import { strFromU8, unzipSync } from 'fflate';

const CONTENT = 'content.xml';
const MOST_BYTES = 64 * 1024 * 1024;
/** Spreadsheets repeat an empty cell to the end of the sheet: nobody notes a ride in so many columns or rows. */
const MOST_COLUMNS = 100;
const MOST_ROWS = 5000;
const OFFICE = 'urn:oasis:names:tc:opendocument:xmlns:office:1.0';
const TABLE = 'urn:oasis:names:tc:opendocument:xmlns:table:1.0';
const TEXT = 'urn:oasis:names:tc:opendocument:xmlns:text:1.0';

/** Cells of the first sheet of an OpenDocument spreadsheet (ISO/IEC 26300). Fails: throws what is wrong with it. */
export function readOds(bytes: Uint8Array): string[][] {
  const files = unzipSync(bytes, {
    filter: ({ name, originalSize }) => {
      if (name === CONTENT && originalSize > MOST_BYTES) throw new Error('it is larger than a notebook may be');
      return name === CONTENT;
    },
  });
  const content = files[CONTENT];
  if (!content) throw new Error('it is no spreadsheet');
  const xml = new DOMParser().parseFromString(strFromU8(content), 'application/xml');
  const sheet = xml.getElementsByTagNameNS(TABLE, 'table')[0];
  if (!sheet) throw new Error('it holds no sheet');
  const rows: string[][] = [];
  for (const row of sheet.getElementsByTagNameNS(TABLE, 'table-row')) {
    const cells = cellsOf(row);
    const isEmpty = cells.every((cell) => cell === '');
    // A run of empty rows is the rest of the sheet.
    const times = isEmpty ? 1 : repeats(row, 'number-rows-repeated', MOST_ROWS - rows.length);
    for (let k = 0; k < times && rows.length < MOST_ROWS; k++) rows.push(cells);
  }
  while (rows.at(-1)?.every((cell) => cell === '')) rows.pop();
  return rows;
}

function cellsOf(row: Element): string[] {
  const cells: string[] = [];
  for (const cell of row.children) {
    if (cell.namespaceURI !== TABLE || !/^(covered-)?table-cell$/.test(cell.localName)) continue;
    const text = cellText(cell);
    const times = repeats(cell, 'number-columns-repeated', MOST_COLUMNS - cells.length);
    for (let k = 0; k < times; k++) cells.push(text);
  }
  while (cells.at(-1) === '') cells.pop();
  return cells;
}

function repeats(element: Element, name: string, most: number): number {
  const times = Number(element.getAttributeNS(TABLE, name) ?? 1);
  return Math.max(0, Math.min(most, Number.isInteger(times) && times > 0 ? times : 1));
}

function cellText(cell: Element): string {
  const value = (name: string): string => cell.getAttributeNS(OFFICE, name) ?? '';
  switch (value('value-type')) {
    case 'float':
    case 'percentage':
    case 'currency':
      return value('value');
    case 'date':
      return value('date-value').slice(0, 10);
    case 'time':
      return timeText(value('time-value'));
    default:
      return [...cell.getElementsByTagNameNS(TEXT, 'p')]
        .map(({ textContent }) => textContent ?? '')
        .join(' ')
        .trim();
  }
}

/** PT01H25M10S as 01:25:10. */
function timeText(duration: string): string {
  const [, hours = '0', minutes = '0', seconds = '0'] =
    /^PT(?:(\d+)H)?(?:(\d+)M)?(?:(\d+)(?:[.,]\d+)?S)?$/.exec(duration) ?? [];
  return [hours, minutes, seconds].map((part) => part.padStart(2, '0')).join(':');
}
