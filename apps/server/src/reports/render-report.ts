import MarkdownIt from 'markdown-it';
import { REPORT_STYLE } from './report-style.js';
import type { Block, Head, Section, Strip } from './report-model.js';

// Tags in the text stay text; links lead to pages and mail only.
const markdown = new MarkdownIt('default', { html: false, linkify: false, typographer: false }).disable('image');
markdown.validateLink = (url) => /^(https?:\/\/|mailto:)/i.test(url.trim());

export function ownWords(text: string): string {
  return markdown.render(text);
}

const ENTITIES: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};
export function escape(text: string): string {
  return text.replaceAll(/[&<>"']/g, (sign) => ENTITIES[sign]!);
}

/** One HTML file that opens without network or scripts; every text from outside is text. */
export function renderReport(head: Head, sections: readonly Section[]): string {
  const running = `${head.title} · ${head.number}`;
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'; img-src data:">
<title>${escape(running)}</title>
<style>${REPORT_STYLE}
@page { @top-left { content: ${cssText(head.title)}; } @top-right { content: ${cssText(head.number)}; } }</style>
</head>
<body>
<header>
<h1>${escape(head.title)}</h1>
<p class="of">${escape(head.number)} · ${escape(head.day)}${head.by === '' ? '' : ` · ${escape(head.by)}`}</p>
</header>
<main>
${sections.map(sectionHtml).join('\n')}
${changesHtml(head)}
</main>
<footer>
<p>Made with Ebrix. Fingerprint of what it was made of: <span class="mono">${escape(head.fingerprint)}</span></p>
</footer>
</body>
</html>
`;
}

/** A text within a style sheet, which no text of a tester may end. */
function cssText(text: string): string {
  return `"${text.replaceAll(/[^\p{L}\p{N} .,:;!?()·–-]/gu, ' ')}"`;
}

function sectionHtml({ key, title, blocks }: Section): string {
  if (key === 'text') return `<section class="own">${blocks.map(blockHtml).join('')}</section>`;
  return `<section id="${key}"><h2>${escape(title)}</h2>${blocks.map(blockHtml).join('\n')}</section>`;
}

function blockHtml(block: Block): string {
  switch (block.kind) {
    case 'lead':
      return `<p class="lead">${escape(block.text)}</p>`;
    case 'caution':
      return `<p class="caution">${escape(block.text)}</p>`;
    case 'text':
      return `<p>${escape(block.text)}</p>`;
    case 'own':
      return block.html;
    case 'list':
      return `<ul>${block.items.map((item) => `<li>${escape(item)}</li>`).join('')}</ul>`;
    case 'table':
      return tableHtml(block);
    case 'strips':
      return stripsHtml(block);
    case 'photos':
      return `<div class="photos">${block.photos
        .map(
          ({ caption, data }) =>
            `<figure><img alt="${escape(caption)}" src="${data}"><figcaption>${escape(caption)}</figcaption></figure>`,
        )
        .join('')}</div>`;
  }
}

function tableHtml({ caption, head, rows, numeric }: Extract<Block, { kind: 'table' }>): string {
  const cell = (text: string, k: number, tag: 'td' | 'th'): string =>
    `<${tag}${tag === 'th' ? ' scope="col"' : ''}${numeric.includes(k) ? ' class="number"' : ''}>${escape(text)}</${tag}>`;
  return `<table><caption>${escape(caption)}</caption><thead><tr>${head.map((text, k) => cell(text, k, 'th')).join('')}</tr></thead><tbody>${rows
    .map((row) => `<tr>${row.map((text, k) => cell(text, k, 'td')).join('')}</tr>`)
    .join('')}</tbody></table>`;
}

const WIDTH = 640;
const ROW = 34;
const LEFT = 70;
const RIGHT = 8;
const SHAPES: Readonly<Record<string, string>> = {
  A: '#0b6e99',
  B: '#c2560a',
  C: '#7a3e9d',
  D: '#a3195b',
  E: '#5f6b00',
  F: '#14211c',
};

/** Strips as SVG with their numbers as a table below. */
function stripsHtml({ caption, unit, interval, strips }: Extract<Block, { kind: 'strips' }>): string {
  const ends = strips.flatMap(({ lower, upper, band }) => [lower, upper, 1.3 * band[0], 1.3 * band[1], 0]);
  const [low, high] = [Math.min(...ends), Math.max(...ends)];
  const x = (value: number): number => LEFT + ((value - low) / (high - low || 1)) * (WIDTH - LEFT - RIGHT);
  const height = strips.length * ROW + 20;
  const row = ({ band, lower, upper, estimate, letters }: Strip, k: number): string => {
    const y = k * ROW + ROW / 2;
    return `<rect x="${num(x(band[0]))}" y="${k * ROW}" width="${num(x(band[1]) - x(band[0]))}" height="${ROW}" fill="#dde3df"/><line x1="${num(x(lower))}" x2="${num(x(upper))}" y1="${y}" y2="${y}" stroke="${SHAPES[letters[0]]!}" stroke-width="5"/><line x1="${num(x(estimate))}" x2="${num(x(estimate))}" y1="${y - 9}" y2="${y + 9}" stroke="#14211c" stroke-width="2.5"/><text x="0" y="${y + 4}">${letters[0]} less ${letters[1]}</text>`;
  };
  return `<figure class="strips"><svg viewBox="0 0 ${WIDTH} ${height}" role="img" aria-label="${escape(caption)}; its numbers stand in the table below">${strips.map(row).join('')}<line x1="${num(x(0))}" x2="${num(x(0))}" y1="0" y2="${strips.length * ROW}" stroke="#14211c"/><text x="${num(x(0))}" y="${height - 5}" text-anchor="middle">equal</text></svg></figure>${tableHtml(
    {
      kind: 'table',
      caption: `${caption}; grey is what does not matter`,
      head: ['Pair', 'Difference', interval, 'Verdict'],
      rows: strips.map(({ label, estimate, lower, upper, says }) => [
        label,
        `${signed(estimate)} ${unit}`,
        `${signed(lower)} to ${signed(upper)} ${unit}`,
        says,
      ]),
      numeric: [1, 2],
    },
  )}`;
}

const num = (value: number): string => value.toFixed(1);
const signed = (value: number): string =>
  `${value > 0 ? '+' : value < 0 ? '−' : ''}${Number(Math.abs(value).toPrecision(2))}`;

function changesHtml({ changes }: Head): string {
  if (changes.length === 0) return '';
  return `<section id="changes"><h2>Changed since the version before</h2>${tableHtml({
    kind: 'table',
    caption: 'Line by line',
    head: ['Where', 'Before', 'Now'],
    rows: changes.map(({ where, before, now }) => [where, before ?? '–', now ?? '–']),
    numeric: [],
  })}</section>`;
}
