import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type CleaningSettings, fieldSays, type Problem } from "../../api/client";
import { ChoiceField, FigureField } from "../../parts/figure-field";
import { figureSays, readFigure } from "../../parts/read-figure";
import { StateMark } from "../../parts/state-mark";
import { schools } from "../cleaning/schools";

type School = CleaningSettings["school"];

/** A pool's own choice of when to clean, where it is not the company's. */
export function OwnSchool({ id, desk }: { id: string; desk: boolean }) {
  const { t } = useTranslation();
  const stands = api.useQuery("get", "/api/v1/pools/{id}/cleaning", { params: { path: { id } } }).data;
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

type Figure = "limitRisePsi" | "differentialPsi" | "sharePercent" | "fixedPsi";

/** The figure that a school goes by; none of the pool's own for the calendar. */
const figureOf: Partial<Record<School | "company", { field: Figure; label: string; unit: string }>> = {
  rise: { field: "limitRisePsi", label: "cleaningSettings.rise", unit: "psi" },
  differential: { field: "differentialPsi", label: "cleaningSettings.rise", unit: "psi" },
  share: { field: "sharePercent", label: "cleaningSettings.share", unit: "%" },
  fixed: { field: "fixedPsi", label: "cleaningSettings.fixed", unit: "psi" },
};

interface FormProps {
  id: string;
  version: number;
  own: { school?: School; flowLossPercent?: number } & Partial<Record<Figure, number>>;
  company: Pick<CleaningSettings, Figure | "flowLossPercent">;
}

function Form({ id, version, own, company }: FormProps) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [school, setSchool] = useState<School | "company">(own.school ?? "company");
  const stands = (s: School | "company") => {
    const f = figureOf[s]?.field;
    return f ? String(own[f] ?? company[f]) : "";
  };
  const [text, setText] = useState(stands(school));
  const [loss, setLoss] = useState(own.flowLossPercent?.toString() ?? "");
  const [wrong, setWrong] = useState("");
  const save = api.useMutation("put", "/api/v1/pools/{id}/cleaning");
  const problem = save.error as Problem | null;
  const figure = figureOf[school];
  return (
    <form
      className="settings"
      onSubmit={(e) => {
        e.preventDefault();
        const v = readFigure(text);
        const bad = figure !== undefined && Number.isNaN(v);
        setWrong(bad ? figureSays(text) : "");
        if (bad) return;
        const lost = loss.trim() ? readFigure(loss) : undefined;
        if (lost !== undefined && Number.isNaN(lost)) return;
        const part = { ...(figure ? { [figure.field]: v } : {}), flowLossPercent: lost };
        save.mutate(
          {
            params: { path: { id } },
            body: school === "company" ? { version, flowLossPercent: lost } : { version, school, ...part },
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
          ...schools.map((s) => ({ value: s, label: t(`cleaningSettings.schools.${s}`) })),
        ]}
        onChange={(s) => {
          setSchool(s);
          setText(stands(s));
        }}
      />
      {figure && (
        <FigureField
          id="own-figure"
          label={t(figure.label)}
          unit={figure.unit}
          value={text}
          say={wrong || fieldSays(problem)[figure.field]}
          onChange={setText}
        />
      )}
      <FigureField
        id="own-flow-loss"
        label={t("cleaningSettings.flowLoss")}
        unit="%"
        value={loss}
        say={(loss.trim() && figureSays(loss)) || fieldSays(problem).flowLossPercent}
        hint={t("ownSchool.flowLoss", { usual: company.flowLossPercent })}
        onChange={setLoss}
      />
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
