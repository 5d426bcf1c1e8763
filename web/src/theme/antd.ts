import type { ThemeConfig } from "antd";

const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** Ant Design's theme, read from our tokens so that there is one source of values. */
export function antdTheme(): ThemeConfig {
  return {
    token: {
      colorPrimary: token("--petrol"),
      colorLink: token("--ink"),
      colorLinkHover: token("--petrol-press"),
      colorLinkActive: token("--petrol-press"),
      colorText: token("--ink"),
      colorTextBase: token("--ink"),
      colorBgBase: token("--paper"),
      colorBgContainer: token("--control"),
      colorBgElevated: token("--control"),
      controlItemBgActive: token("--petrol-wash"),
      controlItemBgActiveHover: token("--petrol-wash"),
      controlItemBgHover: token("--paper-sunk"),
      colorBorder: token("--line-strong"),
      colorError: token("--stop"),
      colorWarning: token("--act"),
      colorSuccess: token("--fine"),
      colorTextLightSolid: token("--on-dark"),
      colorTextPlaceholder: token("--ink-2"),
      borderRadius: 2,
      fontSize: 16,
      controlHeight: 48,
      controlHeightLG: 56,
      fontFamily: token("--font-ui"),
      boxShadow: "none",
      boxShadowSecondary: "none",
      motion: false,
    },
    components: {
      Table: {
        colorBgContainer: token("--paper"),
        headerBg: "transparent",
        headerColor: token("--ink-2"),
        headerSortActiveBg: "transparent",
        headerSortHoverBg: token("--petrol-wash"),
        bodySortBg: "transparent",
        rowHoverBg: token("--paper-sunk"),
        borderColor: token("--line"),
        headerSplitColor: "transparent",
        cellPaddingBlock: 6,
        cellPaddingInline: 10,
      },
      Select: {
        optionHeight: 48,
        optionPadding: "12px",
        optionSelectedBg: token("--petrol-wash"),
        optionSelectedColor: token("--ink"),
        optionActiveBg: token("--paper-sunk"),
      },
      Pagination: { itemActiveBg: token("--petrol-wash") },
    },
  };
}
