import { readdirSync, readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Plugin } from 'vite';
import { ASKED } from './asked.js';
import { drawCommon, drawStyles, drawTokens, styleModule } from './drawn.js';

const LIBRARY = path.join(path.dirname(createRequire(import.meta.url).resolve('antd/package.json')), 'es');
const ours = (file: string): string => fileURLToPath(new URL(`../src/shared/ui/${file}`, import.meta.url));
const SHEET = JSON.stringify(ours('library-sheet.ts'));
const THEME = ours('library-theme.ts');
/** What makes styles. If it comes with the page after all, a style is missing in the list. */
const MAKING = 'library-styles:making';

const exported = (name: string, value: string): string =>
  `export ${name === 'default' ? 'default' : `const ${name} =`} ${value};`;
const making = (name: string): string => `export { making as ${name} } from '${MAKING}';`;

/** What stands in the place of those modules of the library that serve to make styles for all others. */
const IN_PLACE: Readonly<Record<string, () => string>> = {
  'theme/util/genStyleUtils': () =>
    [
      `export { genCssVar } from ${SHEET};`,
      ...['genStyleHooks', 'genComponentStyleHook', 'genSubStyleComponent'].map(making),
    ].join('\n'),
  'theme/util/useResetIconStyle': () => 'export default () => undefined;',
  'theme/themes/default/theme': () => 'export default {};',
  'theme/useToken': () =>
    [
      `import { useTokensOf } from ${SHEET};`,
      `const TOKENS = ${JSON.stringify(drawTokens(readers()))};`,
      'export default () => useTokensOf(TOKENS);',
    ].join('\n'),
};

/** Sources of the library's parts that read values of a theme while they run. */
const readers = (): string =>
  readdirSync(LIBRARY, { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.js') && !/(^|\/)(style|theme)\//.test(file))
    .map((file) => readFileSync(path.join(LIBRARY, file), 'utf8'))
    .filter((source) => source.includes('useToken'))
    .join('\n');

/** A style module with its sheet. Of what else it gives, words are kept; the rest serves to make styles. */
function withSheet(name: string, sheet: string): string {
  const order = 1 + Object.keys(ASKED).indexOf(name);
  const asked = ASKED[name]!;
  return [
    `import { addSheet, madeFor } from ${SHEET};`,
    `addSheet(${order}, ${JSON.stringify(sheet)});`,
    ...Object.entries(asked).map(([key, [kind, classes]]) => {
      const names = classes.map(([prefix, root = prefix]) => `ant-${prefix} ant-${root}`);
      return exported(key, `madeFor(${JSON.stringify(kind)}, ${JSON.stringify(names)})`);
    }),
    ...Object.entries(styleModule(name))
      .filter(([key]) => !Object.hasOwn(asked, key))
      .map(([key, value]) => (typeof value === 'string' ? exported(key, JSON.stringify(value)) : making(key))),
  ].join('\n');
}

/** Our own look of the library, when all of it stands in sheets. */
const themeInSheets = (sheets: Iterable<string>): string =>
  [
    `import { addSheet } from ${SHEET};`,
    `addSheet(0, ${JSON.stringify(drawCommon(sheets))});`,
    "export const themeClass = (name) => 'ebrix-' + name;",
    'export const antTheme = () => ({ hashed: false, zeroRuntime: true });',
  ].join('\n');

/**
 * The component library makes its styles while it draws, from nothing but our themes. Here they are made when the page is built: each of its
 * style modules is replaced by one with its sheet, and what makes styles does not come with the page. A style that is missing in the list
 * stops the build. While the page is being developed, the library makes them itself.
 */
export function libraryStyles(): Plugin {
  const nameOf = (id: string): string | undefined =>
    id.startsWith(`${LIBRARY}/`) && id.endsWith('.js')
      ? id.slice(LIBRARY.length + 1, -'.js'.length).replace(/\/style\/index$/, '/style')
      : undefined;
  let sheets: ReadonlyMap<string, string> = new Map();
  return {
    name: 'library-styles',
    apply: 'build',
    enforce: 'pre',
    buildStart() {
      sheets = drawStyles();
    },
    resolveId: (source) => (source === MAKING ? `\0${MAKING}` : undefined),
    load(id) {
      if (id === `\0${MAKING}`)
        return "export const making = () => { throw new Error('Styles are made by the build.'); };";
      if (id === THEME) return themeInSheets(sheets.values());
      const name = nameOf(id);
      if (name === undefined) return undefined;
      const sheet = sheets.get(name);
      return sheet === undefined ? IN_PLACE[name]?.() : withSheet(name, sheet);
    },
    generateBundle(_options, bundle) {
      const ids = Object.values(bundle).flatMap((chunk) => (chunk.type === 'chunk' ? Object.keys(chunk.modules) : []));
      if (!ids.includes(`\0${MAKING}`)) return;
      const missing = ids
        .map(nameOf)
        .filter((name) => name !== undefined && /(^|\/)style(\/|$)/.test(name) && !ASKED[name]);
      this.error(`Styles are missing in library-styles/asked.ts, among these: ${missing.join(', ')}.`);
    },
  };
}
