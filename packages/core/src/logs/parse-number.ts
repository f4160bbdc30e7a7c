import { LOG_LIMITS } from './limits.js';

export type DecimalMark = '.' | ',';

const PLAIN = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?$/;
const GROUPED_POINT = /^[+-]?\d{1,3}(?:[,'\u2019\u00a0\u202f ]\d{3})+(?:\.\d*)?$/;
const GROUPED_COMMA = /^[+-]?\d{1,3}(?:[.'\u2019\u00a0\u202f ]\d{3})+(?:,\d*)?$/;
const MARKS = /[,'\u2019\u00a0\u202f ]/g;
const MARKS_WITH_POINT = /[.'\u2019\u00a0\u202f ]/g;

/** Number in a cell with the given decimal mark, thousands marks allowed; NaN for anything else (`NaN`, `inf`, words). */
export function parseNumber(cell: string, decimal: DecimalMark): number {
  if (decimal === '.') {
    const quick = +cell;
    // `+''`, `+' '`, `+'0x1F'` and `+'Infinity'` are numbers to the language but not to a logger.
    if (quick === quick && quick - quick === 0 && cell.length < 24 && isPlain(cell)) return quick;
  }
  const text = cell.trim();
  if (text.length > LOG_LIMITS.cellCharacters) return NaN;
  if (decimal === '.') {
    if (PLAIN.test(text)) return +text;
    return GROUPED_POINT.test(text) ? +text.replaceAll(MARKS, '') : NaN;
  }
  if (GROUPED_COMMA.test(text)) return +text.replaceAll(MARKS_WITH_POINT, '').replace(',', '.');
  const pointed = text.replace(',', '.');
  return PLAIN.test(pointed) && !(text.includes('.') && !text.includes(',') && !/^[+-]?\d*\.\d*$/.test(text))
    ? +pointed
    : NaN;
}

function isPlain(cell: string): boolean {
  if (cell.length === 0) return false;
  for (let k = 0; k < cell.length; k++) {
    const code = cell.charCodeAt(k);
    // digits, sign, point, exponent
    if (!((code >= 48 && code <= 57) || code === 45 || code === 46 || code === 43 || code === 69 || code === 101))
      return false;
  }
  return true;
}
