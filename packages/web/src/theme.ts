import { theme, type ThemeConfig } from 'antd';

/**
 * Colours that the style sheet and the chart use by name; the same as the custom properties in styles.css.
 */
export const TOKENS = {
  paper: '#f4f1ea',
  panel: '#e7e2d6',
  table: '#2e3438',
  ink: '#1d2327',
  quiet: '#5d666b',
  rule: '#cbc4b4',
  accent: '#0f6b6f',
  live: '#e2a400',
  wrong: '#b3261e',
  proved: '#2f7d4f',
} as const;

const shared: ThemeConfig = {
  token: {
    fontFamily: "'Barlow', sans-serif",
    fontFamilyCode: "'IBM Plex Mono', monospace",
    fontSize: 15,
    borderRadius: 4,
    colorPrimary: TOKENS.accent,
    colorInfo: TOKENS.accent,
    colorLink: TOKENS.accent,
    colorError: TOKENS.wrong,
    colorSuccess: TOKENS.proved,
    colorWarning: '#8a6400',
    boxShadow: 'none',
    boxShadowSecondary: '0 2px 12px rgb(29 35 39 / 18%)',
    wireframe: false,
  },
  components: {
    Button: { primaryShadow: 'none', defaultShadow: 'none', dangerShadow: 'none', fontWeight: 500 },
    Table: { headerBg: TOKENS.panel, cellPaddingBlockSM: 6 },
  },
};

export const light: ThemeConfig = {
  ...shared,
  token: {
    ...shared.token,
    colorBgBase: '#fbf9f4',
    colorBgLayout: TOKENS.paper,
    colorBgContainer: '#fbf9f4',
    colorTextBase: TOKENS.ink,
    // A link under the pointer is to be read as well.
    colorLinkHover: '#0a4f52',
    colorLinkActive: '#0a4f52',
    colorBorder: '#a9a294',
    colorBorderSecondary: TOKENS.rule,
    colorTextSecondary: TOKENS.quiet,
    colorTextDescription: TOKENS.quiet,
    colorTextPlaceholder: '#6b7378',
    colorWarningBg: '#f8eecb',
    colorWarningBorder: '#d8b44a',
    colorErrorBg: '#f8e1dd',
    colorErrorBorder: '#d9877f',
    colorSuccessBg: '#e0eee2',
    colorSuccessBorder: '#8dbb9b',
    colorInfoBg: '#dfeceb',
    colorInfoBorder: '#7fb3b3',
  },
};

/** For dim labs. */
export const dark: ThemeConfig = {
  ...shared,
  algorithm: theme.darkAlgorithm,
  token: {
    ...shared.token,
    colorPrimary: '#3aa6a9',
    colorLink: '#6cc4c6',
    colorLinkHover: '#8fd6d8',
    colorLinkActive: '#8fd6d8',
    colorSuccess: '#7fc79b',
    colorError: '#f0918a',
    colorBgBase: '#1b1f22',
    colorTextBase: '#ece8de',
    colorTextPlaceholder: '#98a1a6',
    colorBorder: '#5a646a',
  },
  components: {
    ...shared.components,
    // Dark words on the light accent.
    Button: { ...shared.components?.Button, primaryColor: '#08191a' },
    Table: { ...shared.components?.Table, headerBg: '#262c30' },
    Tabs: { itemSelectedColor: '#8fd6d8', itemHoverColor: '#8fd6d8', itemActiveColor: '#8fd6d8' },
  },
};
