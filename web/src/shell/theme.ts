import type { ThemeConfig } from 'antd'

/** Ant Design's controls in the colours of the tin. Drawings use the same values from tin.css. */
export const theme: ThemeConfig = {
  token: {
    colorPrimary: '#B8480A',
    colorPrimaryHover: '#9A3C08', // darker, so that it is read as well as before
    colorPrimaryActive: '#82320A',
    colorLink: '#B8480A',
    colorLinkHover: '#9A3C08',
    colorError: '#A3213F',
    colorSuccess: '#2F6B4F',
    colorInfo: '#2C6E8F',
    colorText: '#2B1A12',
    colorTextSecondary: '#6B574C',
    colorTextPlaceholder: '#7A675B',
    colorBgContainer: '#FFFFFF',
    colorBgElevated: '#FFFFFF',
    colorBorder: '#CDBBA5',
    colorBorderSecondary: '#E6DACA',
    borderRadius: 9,
    controlHeight: 36,
    fontSize: 15,
    fontFamily: "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif",
    boxShadow: 'none',
    boxShadowSecondary: '0 6px 24px rgb(43 26 18 / 16%)',
    // Who wants no motion gets none: a list that waits for the end of one could stay in the way.
    motion: !matchMedia('(prefers-reduced-motion: reduce)').matches,
    motionDurationMid: '0.12s',
    motionDurationSlow: '0.16s',
  },
  components: {
    Button: { primaryShadow: 'none', defaultShadow: 'none', fontWeight: 600 },
    Select: { optionSelectedBg: '#F7E9D8' },
  },
}
