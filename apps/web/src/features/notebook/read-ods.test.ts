import { strToU8, zipSync } from 'fflate';
import { readOds } from './read-ods.js';

const NAMES = [
  'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"',
  'xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0"',
  'xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"',
].join(' ');
const ods = (rows: string): Uint8Array =>
  zipSync({
    mimetype: strToU8('application/vnd.oasis.opendocument.spreadsheet'),
    'content.xml': strToU8(
      `<?xml version="1.0"?><office:document-content ${NAMES}><office:body><office:spreadsheet><table:table table:name="Rides">${rows}</table:table></office:spreadsheet></office:body></office:document-content>`,
    ),
  });
const row = (...cells: string[]): string => `<table:table-row>${cells.join('')}</table:table-row>`;
const text = (words: string): string =>
  `<table:table-cell office:value-type="string"><text:p>${words}</text:p></table:table-cell>`;
const typed = (type: string, name: string, value: string, shown: string): string =>
  `<table:table-cell office:value-type="${type}" office:${name}="${value}"><text:p>${shown}</text:p></table:table-cell>`;

it('days, numbers and times are taken as they are stored, not as they are shown', () => {
  const sheet = ods(
    row(text('Day'), text('Distance'), text('Time')) +
      row(
        typed('date', 'date-value', '2026-04-12T00:00:00', '12.04.26'),
        typed('float', 'value', '9.45', '9,45'),
        typed('time', 'time-value', 'PT00H25M10S', '25:10'),
      ),
  );
  expect(readOds(sheet)).toEqual([
    ['Day', 'Distance', 'Time'],
    ['2026-04-12', '9.45', '00:25:10'],
  ]);
});

it('what is repeated is repeated, and the empty rest of a sheet is none', () => {
  const empty = '<table:table-cell table:number-columns-repeated="16384"/>';
  const sheet = ods(
    row(text('a'), '<table:table-cell table:number-columns-repeated="2"/>', text('&lt;b&gt; &amp; c'), empty) +
      `<table:table-row table:number-rows-repeated="2">${text('same')}</table:table-row>` +
      `<table:table-row table:number-rows-repeated="1048000">${empty}</table:table-row>`,
  );
  expect(readOds(sheet)).toEqual([['a', '', '', '<b> & c'], ['same'], ['same']]);
});

it('what is no spreadsheet says so', () => {
  expect(() => readOds(strToU8('hello'))).toThrow();
  expect(() => readOds(zipSync({ 'other.xml': strToU8('<a/>') }))).toThrow('it is no spreadsheet');
  expect(() => readOds(zipSync({ 'content.xml': strToU8('<a/>') }))).toThrow('it holds no sheet');
});
