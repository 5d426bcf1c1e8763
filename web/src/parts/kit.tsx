import { ConfigProvider } from "antd";
import en from "antd/locale/en_US";
import es from "antd/locale/es_ES";
import { type ReactNode, useMemo } from "react";
import { useTranslation } from "react-i18next";
import { antdTheme } from "../theme/antd";
import { useTheme } from "../theme/use-theme";

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;

const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** Ant Design in our own look and the reader's language. */
export function Kit({ children }: { children: ReactNode }) {
  const { i18n } = useTranslation();
  const shade = useTheme();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the tokens are read from the page in its shade
  const theme = useMemo(() => ({ ...antdTheme(token), zeroRuntime: import.meta.env.PROD }), [shade]);
  return (
    <ConfigProvider theme={theme} csp={{ nonce }} locale={i18n.language === "es" ? es : en}>
      {children}
    </ConfigProvider>
  );
}
