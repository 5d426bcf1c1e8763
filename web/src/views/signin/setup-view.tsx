import { Button, Segmented } from "antd";
import { useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, type Problem } from "../../api/client";
import { type Language, languages } from "../../i18n";
import { ChoiceField } from "../../parts/choice-field";
import { Brand } from "../../parts/glyphs";
import { PasswordField } from "../../parts/password-field";
import { StateMark } from "../../parts/state-mark";
import { WordsField } from "../../parts/words-field";
import styles from "./setup.module.css";

/** Where companies work, as the server knows them. */
const countries = [
  "US",
  "CA",
  "MX",
  "GB",
  "IE",
  "AU",
  "NZ",
  "ES",
  "PT",
  "FR",
  "IT",
  "DE",
  "AR",
  "CL",
  "CO",
  "ZA",
] as const;

const here = () => {
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone || "America/New_York";
  const region = navigator.language.split("-")[1]?.toUpperCase() ?? "US";
  return { zone, country: countries.find((c) => c === region) ?? ("US" as (typeof countries)[number]) };
};

/** The first page of an empty server: the company, its country, its owner. */
export default function SetupView({ onDone }: { onDone: () => void }) {
  const { t, i18n } = useTranslation();
  const [form, setForm] = useState(() => {
    const at = here();
    return {
      code: "",
      company: "",
      phone: "",
      address: "",
      country: at.country as string,
      timeZone: at.zone,
      name: "",
      login: "",
      password: "",
    };
  });
  const set = (is: Partial<typeof form>) => setForm((f) => ({ ...f, ...is }));
  const save = api.useMutation("post", "/api/v1/setup", { onSuccess: onDone });
  const problem = save.error as Problem | null;
  const says = fieldSays(problem);
  const names = useMemo(() => new Intl.DisplayNames([i18n.language], { type: "region" }), [i18n.language]);
  const zones = useMemo(() => {
    const all = Intl.supportedValuesOf("timeZone");
    return all.includes(form.timeZone) ? all : [form.timeZone, ...all];
  }, [form.timeZone]);
  const field = (id: keyof typeof form, hint?: string, first?: boolean) => (
    <WordsField
      id={`setup-${id}`}
      first={first}
      label={t(`setup.${id}`)}
      hint={hint}
      value={form[id]}
      say={says[id]}
      onChange={(text) => set({ [id]: text })}
    />
  );
  return (
    <main className={styles.setup} id="setup">
      <header>
        <h2>
          <Brand /> {t("brand")}
        </h2>
        <Segmented
          aria-label={t("setup.language")}
          value={i18n.language as Language}
          options={languages.map((l) => ({ value: l, label: t(`setup.languages.${l}`) }))}
          onChange={(l) => i18n.changeLanguage(l)}
        />
      </header>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          save.mutate({ body: { ...form, lang: i18n.language === "es" ? "es" : "en" } });
        }}
      >
        <h1>{t("setup.title")}</h1>
        <p className="quiet">{t("setup.what")}</p>
        {problem && Object.keys(says).length === 0 && (
          <p className="state-line" role="alert">
            <StateMark mark="stop" />
            <b>{problem.detail ?? t("state.offline")}</b>
          </p>
        )}
        <fieldset>
          <legend>{t("setup.theCode")}</legend>
          {field("code", t("setup.codeHint"), true)}
        </fieldset>
        <fieldset>
          <legend>{t("setup.theCompany")}</legend>
          {field("company")}
          {field("phone")}
          {field("address", t("setup.optional"))}
        </fieldset>
        <fieldset>
          <legend>{t("setup.theCountry")}</legend>
          <ChoiceField
            id="setup-country"
            label={t("setup.country")}
            value={form.country}
            say={says.country}
            options={countries.map((c) => ({ value: c as string, label: names.of(c) ?? c }))}
            onChange={(country) => set({ country })}
          />
          <ChoiceField
            id="setup-zone"
            label={t("setup.timeZone")}
            value={form.timeZone}
            say={says.timeZone}
            options={zones.map((z) => ({ value: z, label: z.replaceAll("_", " ") }))}
            onChange={(timeZone) => set({ timeZone })}
          />
          <p className="quiet">{t(form.country === "US" ? "setup.readsUS" : "setup.readsMetric")}</p>
        </fieldset>
        <fieldset>
          <legend>{t("setup.you")}</legend>
          {field("name")}
          {field("login", t("setup.loginHint"))}
          <PasswordField
            id="setup-password"
            label={t("signIn.password")}
            hint={t("setup.passwordHint")}
            value={form.password}
            say={says.password}
            onChange={(password) => set({ password })}
          />
          <p className="quiet">{t("setup.drives")}</p>
        </fieldset>
        <p className="part-acts">
          <Button type="primary" size="large" htmlType="submit" id="setup-go" loading={save.isPending}>
            {t("setup.go")}
          </Button>
          <span className="quiet">{t("setup.next")}</span>
        </p>
      </form>
    </main>
  );
}
