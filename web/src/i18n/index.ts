import i18next from "i18next";
import resourcesToBackend from "i18next-resources-to-backend";
import { useEffect } from "react";
import { initReactI18next } from "react-i18next";

export const languages = ["en", "es"] as const;
export type Language = (typeof languages)[number];

/** Nobody's language, in which a screen shows what it would cut; never offered. */
const stretched = "en-XA";
const spoken = [...languages, stretched] as const;

const known = (lang: string | null | undefined) => spoken.find((l) => l === lang);

/** The language of whoever holds this device, as far as the browser tells. */
export const browsers = (): Language =>
  navigator.languages.map((l) => languages.find((own) => own === l.toLowerCase().split("-")[0])).find(Boolean) ?? "en";

const key = "fairlap.lang";

i18next
  .use(resourcesToBackend((lang: string) => (lang === stretched ? import("./stretch") : import(`./${lang}.json`))))
  .use(initReactI18next)
  .init({
    // The last one read here, so that a page loads one language.
    lng: known(localStorage.getItem(key)) ?? browsers(),
    supportedLngs: spoken,
    fallbackLng: (lang) => (known(lang) ? [] : ["en"]),
    interpolation: { escapeValue: false },
  });

const told = (lang: string) => {
  document.documentElement.lang = lang;
};
i18next.on("languageChanged", told);
told(i18next.language);

/** Speaks a language from now on; nothing changes while it is not known yet. */
export function useLanguage(lang: string | undefined): void {
  useEffect(() => {
    if (!lang) return;
    const next = known(lang) ?? "en";
    localStorage.setItem(key, next);
    if (next !== i18next.language) i18next.changeLanguage(next);
  }, [lang]);
}
