import { DesignTokenContext } from 'antd/es/theme/context';
import { useContext } from 'react';

/** The sheets in their order, before those of our own, which say the last word. */
export function addSheet(order: number, css: string): void {
  const sheets = [...document.head.querySelectorAll<HTMLStyleElement>('style[data-library]')];
  const next = sheets.find((sheet) => Number(sheet.dataset['library']) > order);
  const sheet = document.createElement('style');
  sheet.dataset['library'] = String(order);
  sheet.textContent = css;
  document.head.insertBefore(sheet, next ?? (sheets.at(-1)?.nextSibling || document.head.firstChild));
}

const useThemeClass = (): string => useContext(DesignTokenContext).cssVar?.key ?? 'ebrix-light';

type Asking = string | { readonly prefixCls: string; readonly rootCls?: string };

/**
 * What a component of the library asks for its styles; they are there already for the classes they were made for: `prefix root`. A class that
 * none were made for is complained of, since it would be drawn without them.
 */
export function madeFor(kind: 'hook' | 'plain' | 'part', classes: readonly string[]) {
  return function useStyle(asking: Asking, rootAsked?: string): readonly [string, string] | string | null {
    const theme = useThemeClass();
    const [prefix, root = prefix] =
      typeof asking === 'string' ? [asking, rootAsked] : [asking.prefixCls, asking.rootCls];
    if (!classes.includes(`${prefix} ${root}`))
      console.error(`No styles were made for ${prefix} ${root}: see library-styles/asked.ts.`);
    if (kind === 'part') return null;
    return kind === 'plain' ? '' : ['', theme];
  };
}

/** What parts of the library read of a theme while they run, as the library's own hook gives it. */
export function useTokensOf(tokens: Readonly<Record<string, object>>) {
  const { cssVar, theme } = useContext(DesignTokenContext);
  const own = tokens[cssVar?.key ?? ''] ?? tokens['ebrix-light'];
  return [theme, own, '', own, cssVar, true];
}

/** Names of a component's own values, and how they are read. */
export function genCssVar(prefix: string, component: string) {
  const nameOf = (value: string): string => `--${prefix.replaceAll('.', '')}-${component}-${value}`;
  return [nameOf, (value: string, otherwise?: string) => `var(${nameOf(value)}${otherwise ? `, ${otherwise}` : ''})`];
}
