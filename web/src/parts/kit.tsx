import { ConfigProvider } from "antd";
import en from "antd/locale/en_US";
import es from "antd/locale/es_ES";
import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { antdTheme } from "../theme/antd";

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;

/** Ant Design in our own look and the reader's language. */
export function Kit({ children }: { children: ReactNode }) {
  const { i18n } = useTranslation();
  return (
    <ConfigProvider theme={antdTheme()} csp={{ nonce }} locale={i18n.language === "es" ? es : en}>
      {children}
    </ConfigProvider>
  );
}
