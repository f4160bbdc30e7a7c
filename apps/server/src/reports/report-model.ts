import type { Letter, ReportSection } from '@ebrix/contract';

/** What a report is made of: no numbers any more, words as the reader will see them. Plain data, so that it can be frozen and compared. */
export type Block =
  | { readonly kind: 'lead' | 'text' | 'caution'; readonly text: string }
  /** Own words of the writer, as HTML made of Markdown. */
  | { readonly kind: 'own'; readonly html: string }
  | { readonly kind: 'list'; readonly items: readonly string[] }
  | {
      readonly kind: 'table';
      readonly caption: string;
      readonly head: readonly string[];
      readonly rows: readonly (readonly string[])[];
      /** Columns of numbers, by index. */
      readonly numeric: readonly number[];
    }
  | {
      readonly kind: 'strips';
      readonly caption: string;
      readonly unit: string;
      /** What the intervals are: 95 % where it is the last look. */
      readonly interval: string;
      readonly strips: readonly Strip[];
    }
  | { readonly kind: 'photos'; readonly photos: readonly { readonly caption: string; readonly data: string }[] };

/** A difference with its interval over the band that does not matter. */
export interface Strip {
  readonly label: string;
  readonly letters: readonly [Letter, Letter];
  readonly estimate: number;
  readonly lower: number;
  readonly upper: number;
  readonly band: readonly [number, number];
  readonly says: string;
}
export interface Section {
  readonly key: ReportSection | 'text';
  readonly title: string;
  readonly blocks: readonly Block[];
}
/** What stands on every page. */
export interface Head {
  readonly title: string;
  readonly number: string;
  readonly day: string;
  readonly by: string;
  readonly fingerprint: string;
  readonly changes: readonly Change[];
}
export interface Change {
  readonly where: string;
  readonly before: string | null;
  readonly now: string | null;
}

/** Lines of a report with where they stand, for setting one version against another. */
function linesOf(sections: readonly Section[]): Map<string, string> {
  const lines = new Map<string, string>();
  const put = (where: string, text: string): void => {
    let place = where;
    for (let k = 2; lines.has(place); k++) place = `${where} (${k})`;
    lines.set(place, text);
  };
  for (const { title, blocks } of sections)
    for (const block of blocks)
      switch (block.kind) {
        case 'own':
          put(
            `${title}: own words`,
            block.html
              .replaceAll(/<[^>]*>/g, ' ')
              .replaceAll(/\s+/g, ' ')
              .trim(),
          );
          break;
        case 'list':
          for (const item of block.items) put(`${title}: ${item.split(/[:,]/)[0]!}`, item);
          break;
        case 'table':
          for (const [first = '', ...rest] of block.rows) put(`${block.caption}, ${first}`, rest.join(' · '));
          break;
        case 'strips':
          for (const { label, says } of block.strips) put(`${block.caption}, ${label}`, says);
          break;
        case 'photos':
          put(`${title}: photos`, block.photos.map(({ caption }) => caption).join(', '));
          break;
        default:
          put(title, block.text);
      }
  return lines;
}

/** What a version says otherwise than the one before, line by line. */
export function changesBetween(before: readonly Section[], now: readonly Section[]): Change[] {
  const [old, fresh] = [linesOf(before), linesOf(now)];
  return [...new Set([...old.keys(), ...fresh.keys()])]
    .map((where) => ({ where, before: old.get(where) ?? null, now: fresh.get(where) ?? null }))
    .filter((line) => line.before !== line.now);
}

export const text = (words: string): Block => ({ kind: 'text', text: words });
