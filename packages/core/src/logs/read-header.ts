import type { UnitName } from '../units/index.js';
import { HEADER_VOCABULARY, SPEAKING_WORDS, type HeaderMeaning } from './header-vocabulary.js';
import { LOG_LIMITS } from './limits.js';
import { parseUnit } from './unit-spellings.js';

const BY_WORD = new Map<string, HeaderMeaning>(
  Object.entries(HEADER_VOCABULARY).flatMap(([meaning, words]) =>
    words.map((word) => [word, meaning as HeaderMeaning] as const),
  ),
);

export interface HeaderReading {
  readonly meaning?: HeaderMeaning;
  readonly unit?: UnitName;
  /** A unit was written but is not one the program knows. */
  readonly unknownUnit?: string;
}

/** What a column's header says: `speed (mph)`, `speed [km/h]`, `Speed_kmh`, `speed mph`, `BatteryVoltage`. */
export function readHeader(header: string): HeaderReading {
  const text = header.slice(0, LOG_LIMITS.headerCharacters).normalize('NFC').trim();
  const bracketed = splitBracket(text);
  if (bracketed) {
    const meaning = findMeaning(bracketed.name);
    const unit = parseUnit(bracketed.unit);
    return withUnit(meaning, unit, unit ? undefined : bracketed.unit);
  }
  const whole = findMeaning(text);
  if (whole) return withUnit(whole, unitInWords(text));
  const trailing = splitTrailingWord(text);
  if (trailing) {
    const unit = parseUnit(trailing.unit);
    const meaning = findMeaning(trailing.name);
    if (unit && meaning) return { meaning, unit };
  }
  return {};
}

const OPENERS = '([{<';
const CLOSERS = ')]}>';

/** `speed (km/h)`: the name, and what stands in the brackets at the end. One pass: a header may be built to be slow. */
function splitBracket(text: string): { name: string; unit: string } | undefined {
  const end = text.length - 1;
  if (end < 1 || !CLOSERS.includes(text[end]!)) return undefined;
  let opener = -1;
  for (let k = end - 1; k >= 0 && !CLOSERS.includes(text[k]!); k--) if (OPENERS.includes(text[k]!)) opener = k;
  return opener < 0 ? undefined : { name: text.slice(0, opener).trim(), unit: text.slice(opener + 1, end).trim() };
}

const SEPARATORS = ' \t\u00a0_,;:|/-';
/** A unit may hold a stroke (`km/h`) but none of these. */
const NEVER_IN_UNIT = ' \t\u00a0_,;:';

/** `speed_kmh`, `speed km/h`: the name, and the last word. */
function splitTrailingWord(text: string): { name: string; unit: string } | undefined {
  let cut = text.length;
  while (cut > 0 && !NEVER_IN_UNIT.includes(text[cut - 1]!)) cut--;
  // Without a space or the like, the first stroke or dash separates.
  if (cut === 0) cut = text.slice(1).search(/[|/-]/) + 2;
  if (cut < 2) return undefined;
  let from = cut;
  while (from < text.length && SEPARATORS.includes(text[from]!)) from++;
  let to = cut;
  while (to > 0 && SEPARATORS.includes(text[to - 1]!)) to--;
  return to > 0 && from < text.length ? { name: text.slice(0, to), unit: text.slice(from) } : undefined;
}

function withUnit(meaning: HeaderMeaning | undefined, unit: UnitName | undefined, unknownUnit?: string): HeaderReading {
  return { ...(meaning && { meaning }), ...(unit && { unit }), ...(unknownUnit && { unknownUnit }) };
}

function unitInWords(text: string): UnitName | undefined {
  const word = text
    .toLowerCase()
    .split(/[\s_.\-:]+/)
    .find((one) => SPEAKING_WORDS.has(one));
  return word === undefined ? undefined : parseUnit(word);
}

function findMeaning(text: string): HeaderMeaning | undefined {
  const plain = (words: string): string =>
    words
      .toLowerCase()
      .replaceAll(/[\s_.\-:]+/g, ' ')
      .trim();
  // "BatteryVoltage" is two words, "SoC" is one.
  return BY_WORD.get(plain(text.replaceAll(/(\p{Ll})(\p{Lu})/gu, '$1 $2'))) ?? BY_WORD.get(plain(text));
}
