import { useTranslation } from "react-i18next";
import { api, type CleaningSettings, http, type PoolCleaning } from "../../api/client";
import { ChoiceField } from "../../parts/choice-field";
import { FigureField } from "../../parts/figure-field";
import { Fold } from "../../parts/fold";
import { RecordEnd, useRecordForm } from "../../parts/record-form";
import { schools } from "../cleaning/schools";
import styles from "./due.module.css";

type School = CleaningSettings["school"];

/** A pool's own choice of when to clean, where it is not the company's. */
export function OwnSchool({ id, desk }: { id: string; desk: boolean }) {
  const { t } = useTranslation();
  const stands = api.useQuery("get", "/api/v1/pools/{id}/cleaning", { params: { path: { id } } }).data;
  if (!stands) return null;
  const school = stands.own.school ?? stands.company.school;
  return (
    <section className={`sec ${styles["own-school"]}`} aria-labelledby="own-school-head">
      <h2 id="own-school-head">{t("ownSchool.title")}</h2>
      <p>
        {t(`cleaningSettings.schools.${school}`)}.{" "}
        <span className="quiet">{t(stands.own.school ? "ownSchool.own" : "ownSchool.companys")}</span>
      </p>
      {desk && (
        <Fold head={t("ownSchool.change")}>
          <Form id={id} stands={stands} />
        </Fold>
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

/** What is typed of a pool's own choice; the figure that the school goes by, else the company's. */
const typed = ({ own, company }: PoolCleaning) => ({
  school: (own.school ?? "company") as School | "company",
  limitRisePsi: String(own.limitRisePsi ?? company.limitRisePsi),
  differentialPsi: String(own.differentialPsi ?? company.differentialPsi),
  sharePercent: String(own.sharePercent ?? company.sharePercent),
  fixedPsi: String(own.fixedPsi ?? company.fixedPsi),
  loss: own.flowLossPercent?.toString() ?? "",
});

function Form({ id, stands }: { id: string; stands: PoolCleaning }) {
  const { t } = useTranslation();
  const record = useRecordForm(stands, typed, {
    body: (form, read) => {
      const at = figureOf[form.school]?.field;
      return {
        flowLossPercent: form.loss.trim() ? read("flowLossPercent", form.loss) : undefined,
        ...(form.school === "company" ? {} : { school: form.school }),
        ...(at ? { [at]: read(at, form[at]) } : {}),
      };
    },
    put: (body) => http.PUT("/api/v1/pools/{id}/cleaning", { params: { path: { id } }, body }),
    changed: "pool",
  });
  const { form, set, says } = record;
  const figure = figureOf[form.school];
  return (
    <form className="settings" onSubmit={record.submit}>
      <ChoiceField
        id="own-school"
        label={t("cleaningSettings.school")}
        value={form.school}
        options={[
          { value: "company" as const, label: t("ownSchool.asCompany") },
          ...schools.map((s) => ({ value: s, label: t(`cleaningSettings.schools.${s}`) })),
        ]}
        onChange={(school) => set({ school })}
      />
      {figure && (
        <FigureField
          id="own-figure"
          label={t(figure.label)}
          unit={figure.unit}
          value={form[figure.field]}
          say={says[figure.field]}
          onChange={(text) => set({ [figure.field]: text })}
        />
      )}
      <FigureField
        id="own-flow-loss"
        label={t("cleaningSettings.flowLoss")}
        unit="%"
        value={form.loss}
        say={says.flowLossPercent}
        hint={t("ownSchool.flowLoss", { usual: stands.company.flowLossPercent })}
        onChange={(loss) => set({ loss })}
      />
      <RecordEnd record={record} id="save-own-school" />
    </form>
  );
}
