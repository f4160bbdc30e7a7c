import { createRequire } from 'node:module';
import type * as Cssinjs from '@ant-design/cssinjs';
import type * as Antd from 'antd';
import type * as React from 'react';
import type * as Server from 'react-dom/server';
import { antTheme, themeClass } from '../src/shared/ui/library-theme.js';
import { ASKED, type Asked, type Kind } from './asked.js';
import { pruned, valuesUnder } from './pruned.js';

// The library's form for Node, of which there is one in the process, with the React that it finds.
const require = createRequire(import.meta.url);
const { createElement, Fragment } = require('react') as typeof React;
const { renderToString } = require('react-dom/server') as typeof Server;
const { createCache, extractStyle, StyleProvider } = require('@ant-design/cssinjs') as typeof Cssinjs;
const { ConfigProvider, theme: themes } = require('antd') as typeof Antd;

const THEMES = ['light', 'dark', 'sunlight'] as const;
type Theme = (typeof THEMES)[number];
type Use = (prefix: string, root?: string, rules?: boolean) => unknown;
type Part = React.ComponentType<{ readonly prefixCls: string }>;
type Made = 'common' | 'own' | 'values' | 'tokens';

/** What a style module of the library gives. */
export const styleModule = (name: string): Readonly<Record<string, unknown>> =>
  require(`antd/lib/${name}`) as Record<string, unknown>;

/** How the library names in its store what it has made. */
const NAMES: Readonly<Record<Made, RegExp>> = {
  common: /^style%[^%]*%(Shared|ant-design-icons)%/,
  own: /^style%[^%]*%(?!(Shared|ant-design-icons)%)/,
  values: /^cssVar%/,
  tokens: /^token%/,
};
/** Its list of what it has made, which is not for a page to read. */
const LIST = /\.data-ant-cssinjs-cache-path\{content:"[^"]*";\}$/;

/** What the library makes of an element under a theme. */
function make(what: Made, theme: Theme, element: React.ReactElement, hashed = false): string {
  const cache = createCache();
  const look = { ...antTheme(theme), hashed, cssVar: { key: themeClass(theme) } };
  const inTheme = createElement(ConfigProvider, { theme: look }, element);
  renderToString(createElement(StyleProvider, { cache, mock: 'server' }, inTheme));
  for (const name of [...cache.cache.keys()]) if (!NAMES[what].test(name)) cache.cache.delete(name);
  return extractStyle(cache, { plain: true }).replace(LIST, '');
}

const underThemes = (what: Made, element: React.ReactElement): readonly string[] =>
  THEMES.map((theme) => make(what, theme, element));

/** Asks for a style as the library's components do. */
function elementOf(use: unknown, kind: Kind, asked: Asked): React.ReactElement {
  if (kind === 'part')
    return createElement(
      Fragment,
      null,
      ...asked.map(([prefix]) => createElement(use as Part, { prefixCls: `ant-${prefix}`, key: prefix })),
    );
  return createElement(() => {
    for (const [prefix, root, rules] of asked) (use as Use)(`ant-${prefix}`, root && `ant-${root}`, rules);
    return null;
  });
}

/** The sheet of one style module: its rules, which are the same under all themes, and its values under each. */
function drawStyle(name: string): string {
  const given = styleModule(name);
  return Object.entries(ASKED[name]!)
    .filter(([, [, asked]]) => asked.length > 0)
    .map(([key, [kind, asked]]) => {
      const element = elementOf(given[key], kind, asked);
      const [rules, ...others] = underThemes('own', element);
      if (others.some((other) => other !== rules)) throw new Error(`The rules of ${name} differ between themes.`);
      return pruned(rules!) + valuesUnder(underThemes('values', element));
    })
    .join('');
}

/** The sheet of every style module, by its name. */
export const drawStyles = (): ReadonlyMap<string, string> =>
  new Map(Object.keys(ASKED).map((name) => [name, drawStyle(name)]));

/** What the sheets given stand on: the values that they read, links and icons. */
export function drawCommon(sheets: Iterable<string>): string {
  const element = elementOf(styleModule('_util/wave/style')['default'], 'plain', [['wave']]);
  // Links and icons within the library's own parts alone: these all have the class of their theme.
  const inLibrary = `:where(${THEMES.map((theme) => `.${themeClass(theme)}`).join(',')})`;
  const common = make('common', 'light', element, true)
    .replace(/:where\(\.css-\w+\)/g, inLibrary)
    .replace(/css-\w+-/g, '');
  const read = new Set(
    [...sheets, common].flatMap((sheet) => [...sheet.matchAll(/var\((--[\w-]+)/g)].map(([, value]) => value)),
  );
  return valuesUnder(underThemes('tokens', element), (value) => read.has(value)) + common;
}

/** Values that parts of the library read while they run, by theme: numbers, and of the many others those that stand in the sources given. */
export function drawTokens(sources: string): Readonly<Record<string, Readonly<Record<string, unknown>>>> {
  const isRead = ([name, value]: [string, unknown]): boolean =>
    typeof value === 'number' || new RegExp(`\\b${name}\\b`).test(sources);
  return Object.fromEntries(
    THEMES.map((theme) => [
      themeClass(theme),
      Object.fromEntries(Object.entries(themes.getDesignToken(antTheme(theme))).filter(isRead)),
    ]),
  );
}
