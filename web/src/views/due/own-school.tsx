import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type CleaningSettings, fieldSays, type Problem } from "../../api/client";
import { ChoiceField, FigureField, readFigure } from "../../parts/figure-field";
import { StateMark } from "../../parts/state-mark";

type School = CleaningSettings["school"];

/** A pool's own choice of when to clean, where it is not the company's. */
export function OwnSchool({ id, desk }: { id: string; desk: boolean }) {
  const { t } = useTranslation();
  const stands = api.useQuery("get", "/api/pools/{id}/cleaning", { params: { path: { id } } }).data;
  if (!stands) return null;
  const school = stands.own.school ?? stands.company.school;
  return (
    <section className="sec own-school" aria-labelledby="own-school-head">
      <h2 id="own-school-head">{t("ownSchool.title")}</h2>
      <p>
        {t(`cleaningSettings.schools.${school}`)}.{" "}
        <span className="quiet">{t(stands.own.school ? "ownSchool.own" : "ownSchool.companys")}</span>
      </p>
      {desk && (
        <details>
          <summary>{t("ownSchool.change")}</summary>
          <Form key={stands.version} id={id} version={stands.version} own={stands.own} company={stands.company} />
        </details>
      )}
    </section>
  );
}

interface FormProps {
  id: string;
  version: number;
  own: { school?: School; limitRisePsi?: number; fixedPsi?: number; cleanAbove?: number };
  company: Pick<CleaningSettings, "limitRisePsi" | "fixedPsi" | "cleanAbove">;
}

function Form({ id, version, own, company }: FormProps) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [school, setSchool] = useState<School | "company">(own.school ?? "company");
  const figure = school === "fixed" ? (own.fixedPsi ?? company.fixedPsi) : (own.limitRisePsi ?? company.limitRisePsi);
  const [psi, setPsi] = useState(String(figure));
  const [wrong, setWrong] = useState("");
  const save = api.useMutation("put", "/api/pools/{id}/cleaning");
  const problem = save.error as Problem | null;
  const says = fieldSays(problem);
  return (
    <form
      className="settings"
      onSubmit={(e) => {
        e.preventDefault();
        const v = readFigure(psi);
        const asks = school === "rise" || school === "fixed";
        setWrong(asks && Number.isNaN(v) ? t("cleaningSettings.notAFigure") : "");
        if (asks && Number.isNaN(v)) return;
        const part = school === "rise" ? { limitRisePsi: v } : school === "fixed" ? { fixedPsi: v } : {};
        save.mutate(
          {
            params: { path: { id } },
            body: school === "company" ? { version } : { version, school, ...part },
          },
          { onSuccess: () => queries.invalidateQueries() },
        );
      }}
    >
      <ChoiceField
        id="own-school"
        label={t("cleaningSettings.school")}
        value={school}
        options={[
          { value: "company" as const, label: t("ownSchool.asCompany") },
          ...(["rise", "fixed", "calendar"] as const).map((s) => ({
            value: s,
            label: t(`cleaningSettings.schools.${s}`),
          })),
        ]}
        onChange={(s) => {
          setSchool(s);
          if (s === "fixed") setPsi(String(own.fixedPsi ?? company.fixedPsi));
          if (s === "rise") setPsi(String(own.limitRisePsi ?? company.limitRisePsi));
        }}
      />
      {(school === "rise" || school === "fixed") && (
        <FigureField
          id="own-psi"
          label={t(school === "rise" ? "cleaningSettings.rise" : "cleaningSettings.fixed")}
          unit="psi"
          value={psi}
          say={wrong || says.limitRisePsi || says.fixedPsi}
          onChange={setPsi}
        />
      )}
      {problem && (
        <p className="state-line" role="alert">
          <StateMark mark="act" />
          <span>{problem.detail ?? t("state.offline")}</span>
        </p>
      )}
      <button type="submit" className="btn" id="save-own-school" disabled={save.isPending}>
        {t("cleaningSettings.save")}
      </button>
    </form>
  );
}
