import { useTranslation } from "react-i18next";
import { api, type CleaningSettings, http } from "../../api/client";
import { useMe } from "../../frame/me";
import { Page } from "../../frame/page";
import { ChoiceField } from "../../parts/choice-field";
import { DatesField } from "../../parts/date-field";
import { FigureField } from "../../parts/figure-field";
import { figure, measured } from "../../parts/format";
import { Loading, Trouble } from "../../parts/quiet-states";
import { RecordEnd, useRecordForm } from "../../parts/record-form";
import { WordsField } from "../../parts/words-field";
import { Lives, readLives, type TypedLives, typedLives } from "./lives";
import { schools } from "./schools";

/** When the company cleans: the school, its figures, the holds. */
export function CleaningView() {
  const { t } = useTranslation();
  const me = useMe();
  const settings = api.useQuery("get", "/api/v1/settings");
  const mayEdit = me.role !== "technician";
  return (
    <Page title={t("cleaningSettings.title")}>
      <div className="catalogue">
        {settings.isError && !settings.data && <Trouble error={settings.error} onRetry={() => settings.refetch()} />}
        {settings.isPending && <Loading />}
        {settings.data && <Form stands={settings.data} mayEdit={mayEdit} />}
      </div>
    </Page>
  );
}

/** The figure that each school goes by; the calendar's loads still have a limit. */
const figures = {
  rise: { id: "limit-rise", field: "limitRisePsi", label: "cleaningSettings.rise", unit: "psi" },
  differential: { id: "differential", field: "differentialPsi", label: "cleaningSettings.rise", unit: "psi" },
  share: { id: "share", field: "sharePercent", label: "cleaningSettings.share", unit: "%" },
  fixed: { id: "fixed-psi", field: "fixedPsi", label: "cleaningSettings.fixed", unit: "psi" },
  calendar: { id: "limit-rise", field: "limitRisePsi", label: "cleaningSettings.rise", unit: "psi" },
} as const;

/** Where the schools of doing the work differ. */
const ways = {
  rinse: ["timed", "clear"],
  prime: ["skimmer", "drain", "shut"],
  seal: ["greased", "dry"],
  winter: ["blown", "antifreeze"],
} as const;

/** Figures as they are typed. */
interface Typed {
  school: CleaningSettings["school"];
  limitRisePsi: string;
  fixedPsi: string;
  differentialPsi: string;
  sharePercent: string;
  flowLossPercent: string;
  cleanAbove: string;
  worthDays: string;
  holdHours: string;
  place: "north" | "south";
  noDischarge: string[];
  seasonOpens: string;
  seasonCloses: string;
  lives: TypedLives;
  ways: CleaningSettings["ways"];
}

const typed = (s: CleaningSettings): Typed => ({
  school: s.school,
  limitRisePsi: String(s.limitRisePsi),
  fixedPsi: String(s.fixedPsi),
  differentialPsi: String(s.differentialPsi),
  sharePercent: String(s.sharePercent),
  flowLossPercent: String(s.flowLossPercent),
  cleanAbove: String(Math.round(100 * s.cleanAbove)),
  worthDays: String(s.worthDays),
  holdHours: String(s.holdHours),
  place: s.south ? "south" : "north",
  noDischarge: s.noDischarge,
  seasonOpens: s.seasonOpens,
  seasonCloses: s.seasonCloses,
  lives: typedLives(s),
  ways: s.ways,
});

function Form({ stands, mayEdit }: { stands: CleaningSettings; mayEdit: boolean }) {
  const { t } = useTranslation();
  const usual = api.useQuery("get", "/api/v1/service-lives").data;
  const record = useRecordForm(stands, typed, {
    body: (form, read) => {
      const lives = readLives(form.lives, Object.fromEntries((usual?.parts ?? []).map((p) => [p.kind, p.years])), read);
      return {
        limitRisePsi: read("limitRisePsi", form.limitRisePsi),
        fixedPsi: read("fixedPsi", form.fixedPsi),
        differentialPsi: read("differentialPsi", form.differentialPsi),
        sharePercent: read("sharePercent", form.sharePercent),
        flowLossPercent: read("flowLossPercent", form.flowLossPercent),
        cleanAbove: read("cleanAbove", form.cleanAbove) / 100,
        worthDays: read("worthDays", form.worthDays),
        holdHours: read("holdHours", form.holdHours),
        school: form.school,
        ways: form.ways,
        south: form.place === "south",
        noDischarge: form.noDischarge,
        seasonOpens: form.seasonOpens.trim(),
        seasonCloses: form.seasonCloses.trim(),
        ...lives,
      };
    },
    put: (body) => http.PUT("/api/v1/settings", { body }),
    changed: "everything",
  });
  const { form, set, says } = record;
  const day = Object.keys(says).find((k) => k.startsWith("noDischarge"));
  return (
    <form className="settings" onSubmit={record.submit}>
      <fieldset disabled={!mayEdit}>
        <ChoiceField
          label={t("cleaningSettings.school")}
          value={form.school}
          options={schools.map((s) => ({
            value: s,
            label: t(`cleaningSettings.schools.${s}`),
          }))}
          onChange={(school) => set({ school })}
        />
        <p className="quiet">{t(`cleaningSettings.changes.${form.school}`, { usual: measured(15, "psi") })}</p>
        <FigureField
          id={figures[form.school].id}
          label={t(figures[form.school].label)}
          unit={figures[form.school].unit}
          value={form[figures[form.school].field]}
          say={says[figures[form.school].field]}
          hint={
            form.school === "rise" || form.school === "calendar"
              ? t("cleaningSettings.riseHint", { usual: `${figure(8, "psi")}–${measured(10, "psi")}` })
              : undefined
          }
          onChange={(text) => set({ [figures[form.school].field]: text })}
        />
        <FigureField
          id="flow-loss"
          label={t("cleaningSettings.flowLoss")}
          unit="%"
          value={form.flowLossPercent}
          say={says.flowLossPercent}
          hint={t("cleaningSettings.flowLossHint")}
          onChange={(flowLossPercent) => set({ flowLossPercent })}
        />
        <FigureField
          id="clean-above"
          label={t("cleaningSettings.above")}
          unit="%"
          value={form.cleanAbove}
          say={says.cleanAbove}
          hint={t("cleaningSettings.aboveHint")}
          onChange={(cleanAbove) => set({ cleanAbove })}
        />
        <FigureField
          id="worth-days"
          label={t("cleaningSettings.worth")}
          unit="d"
          value={form.worthDays}
          say={says.worthDays}
          hint={t("cleaningSettings.worthHint")}
          onChange={(worthDays) => set({ worthDays })}
        />
        {(Object.keys(ways) as (keyof typeof ways)[]).map((w) => (
          <ChoiceField
            key={w}
            label={t(`cleaningSettings.ways.${w}.label`)}
            value={form.ways[w] as string}
            options={ways[w].map((v) => ({ value: v as string, label: t(`cleaningSettings.ways.${w}.${v}`) }))}
            onChange={(v) => set({ ways: { ...form.ways, [w]: v } })}
          />
        ))}
        <FigureField
          id="hold-hours"
          label={t("cleaningSettings.hold")}
          unit="h"
          value={form.holdHours}
          say={says.holdHours}
          hint={t("cleaningSettings.holdHint")}
          onChange={(holdHours) => set({ holdHours })}
        />
        <DatesField
          id="no-discharge"
          label={t("cleaningSettings.noDischarge")}
          value={form.noDischarge}
          say={day ? says[day] : undefined}
          hint={t("cleaningSettings.noDischargeHint")}
          onChange={(noDischarge) => set({ noDischarge })}
        />
        <ChoiceField
          label={t("cleaningSettings.place")}
          value={form.place}
          options={(["north", "south"] as const).map((s) => ({ value: s, label: t(`cleaningSettings.places.${s}`) }))}
          onChange={(place) => set({ place })}
        />
        <div className="life">
          <WordsField
            id="season-opens"
            label={t("cleaningSettings.opens")}
            value={form.seasonOpens}
            say={says.seasonOpens}
            hint={t("cleaningSettings.seasonHint")}
            onChange={(seasonOpens) => set({ seasonOpens })}
          />
          <WordsField
            id="season-closes"
            label={t("cleaningSettings.closes")}
            value={form.seasonCloses}
            say={says.seasonCloses}
            onChange={(seasonCloses) => set({ seasonCloses })}
          />
        </div>
        <Lives lives={form.lives} says={says} onChange={(lives) => set({ lives })} />
      </fieldset>
      {mayEdit ? (
        <RecordEnd
          record={record}
          theirs={(r) =>
            t("cleaningSettings.theirs", {
              school: t(`cleaningSettings.schools.${r.school}`),
              rise: r.limitRisePsi,
            })
          }
        />
      ) : (
        <p className="quiet">{t("cleaningSettings.desk")}</p>
      )}
    </form>
  );
}
