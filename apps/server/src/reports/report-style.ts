/** For screen and paper: A4 and Letter alike, since nothing has a fixed height. */
export const REPORT_STYLE = `
:root { color-scheme: light; }
body { font: 15px/1.5 'Archivo', 'Helvetica', 'Arial', sans-serif; color: #14211c; background: #fff; margin: 0 auto; max-width: 46rem; padding: 1.5rem; }
h1 { font-size: 1.8rem; line-height: 1.2; margin: 0 0 .2rem; }
h2 { font-size: 1.15rem; margin: 1.8rem 0 .5rem; border-top: 2px solid #1f5a45; padding-top: .4rem; }
h3 { font-size: 1rem; margin: 1rem 0 .3rem; }
p, ul, ol { margin: 0 0 .6rem; }
.of, footer, caption, figcaption { color: #55635c; font-size: .85rem; }
.lead { font-size: 1.2rem; line-height: 1.35; font-weight: 600; }
.caution { border-left: 5px solid #f4c430; background: #fbf6e3; padding: .5rem .8rem; }
.mono { font-family: monospace; overflow-wrap: anywhere; }
table { border-collapse: collapse; width: 100%; margin: .4rem 0 1rem; font-size: .9rem; }
caption { text-align: left; padding-bottom: .2rem; }
th, td { text-align: left; vertical-align: top; padding: .25rem .6rem .25rem 0; border-bottom: 1px solid #cbd3ce; overflow-wrap: break-word; }
.number { font-variant-numeric: tabular-nums; white-space: nowrap; }
figure { margin: 0 0 .6rem; }
.strips svg { width: 100%; height: auto; font: 12px sans-serif; }
.photos { display: grid; grid-template-columns: repeat(auto-fill, minmax(12rem, 1fr)); gap: .8rem; }
.photos img { width: 100%; height: auto; }
footer { margin-top: 2rem; border-top: 1px solid #cbd3ce; padding-top: .5rem; }
@page { margin: 18mm 16mm 16mm; font: 9pt sans-serif; @bottom-right { content: counter(page) " of " counter(pages); } }
@media print {
  body { max-width: none; padding: 0; font-size: 9.5pt; line-height: 1.4; }
  h2, h3, caption { break-after: avoid; }
  .lead { font-size: 11.5pt; }
  tr, figure, .caution, .strips { break-inside: avoid; }
  tbody tr:first-child { break-before: avoid; }
  h2 { margin-top: 1.1rem; }
  thead { display: table-header-group; }
  p { orphans: 3; widows: 3; }
}
`;
