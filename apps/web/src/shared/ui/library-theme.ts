import { theme, type ThemeConfig } from 'antd';
import type { ConsoleTheme } from '../preferences/index.js';

/** The class under which the library's values of a theme stand. */
export const themeClass = (name: ConsoleTheme): string => `ebrix-${name}`;

/** Ant Design under own tokens; the same values stand as CSS variables in theme.css for what is drawn by hand. */
export function antTheme(name: ConsoleTheme): ThemeConfig {
  if (name === 'sunlight') return sunlightTheme();
  const isDark = name === 'dark';
  return {
    algorithm: [isDark ? theme.darkAlgorithm : theme.defaultAlgorithm],
    token: {
      colorPrimary: isDark ? '#3f8f72' : '#1f5a45',
      colorInfo: isDark ? '#7cc4a6' : '#1f5a45',
      colorLink: isDark ? '#7cc4a6' : '#1f5a45',
      colorError: isDark ? '#ff8a80' : '#b3261e',
      colorBgLayout: isDark ? '#101815' : '#edf0ee',
      colorBgContainer: isDark ? '#18231f' : '#fbfcfb',
      colorBgElevated: isDark ? '#1c2924' : '#fbfcfb',
      colorText: isDark ? '#e6ece9' : '#14211c',
      colorTextSecondary: isDark ? '#a3b3ab' : '#55635c',
      colorTextDescription: isDark ? '#a3b3ab' : '#55635c',
      colorTextTertiary: isDark ? '#a3b3ab' : '#55635c',
      colorTextPlaceholder: isDark ? '#93a39b' : '#66746d',
      colorBorder: isDark ? '#4a5c53' : '#a9b4ae',
      colorBorderSecondary: isDark ? '#33433b' : '#cbd3ce',
      controlItemBgActive: isDark ? '#2b4a3e' : '#d3e2da',
      controlItemBgActiveHover: isDark ? '#33574a' : '#c5d8ce',
      borderRadius: 4,
      borderRadiusLG: 4,
      borderRadiusSM: 3,
      fontFamily: "'Archivo Variable', 'Archivo', sans-serif",
      fontSize: 14,
      wireframe: true,
      boxShadow: '0 1px 0 rgba(20,33,28,.12), 0 6px 18px rgba(20,33,28,.12)',
      boxShadowSecondary: '0 1px 0 rgba(20,33,28,.12), 0 6px 18px rgba(20,33,28,.14)',
      // Each movement costs a slow processor a drawing or two more: lists and dialogs are there at once.
      motion: false,
    },
    components: {
      Button: { fontWeight: 600, primaryShadow: 'none', defaultShadow: 'none' },
      Form: { labelColor: isDark ? '#e6ece9' : '#14211c', verticalLabelPadding: '0 0 4px' },
    },
  };
}

/** Black on white, with borders that a screen in the sun still shows. */
function sunlightTheme(): ThemeConfig {
  const light = antTheme('light');
  return {
    ...light,
    token: {
      ...light.token,
      colorPrimary: '#000000',
      colorInfo: '#000000',
      colorLink: '#000000',
      colorBgLayout: '#ffffff',
      colorBgContainer: '#ffffff',
      colorBgElevated: '#ffffff',
      colorText: '#000000',
      colorTextSecondary: '#2b2b2b',
      colorTextPlaceholder: '#4a4a4a',
      colorBorder: '#000000',
      colorBorderSecondary: '#000000',
    },
  };
}
