import { ConfigProvider } from 'antd';
import { useContext, type ReactNode } from 'react';
import { antTheme, themeClass } from './library-theme.js';
import { ThemeName } from './theme-name.js';

/**
 * The look of the component library for what stands in it. A place brings it along with its own piece of the program, so that the first page,
 * which needs nothing of the library, comes without it.
 */
export function LibraryTheme({ children }: { readonly children: ReactNode }) {
  const name = useContext(ThemeName);
  return (
    // One set of styles for all that is drawn under the same theme, wherever it stands.
    <ConfigProvider theme={{ ...antTheme(name), cssVar: { key: themeClass(name) } }} componentSize="medium">
      {children}
    </ConfigProvider>
  );
}
