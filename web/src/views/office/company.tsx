import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type CompanyView, fieldSays, type Problem } from "../../api/client";
import { languages } from "../../i18n";
import { ChoiceField, FigureField } from "../../parts/figure-field";
import { figureSays, readFigure } from "../../parts/read-figure";
import { StateMark } from "../../parts/state-mark";
import { useBased } from "../../parts/use-based";

const figures = ["waterPerKgal", "labourPerHour", "energyPerKwh", "keepPhotosYears", "keepPeopleYears"] as const;
type Figure = (typeof figures)[number];
const words = ["name", "phone", "timeZone", "currency"] as const;

const typed = (c: CompanyView) => ({
  name: c.name,
  phone: c.phone,
  timeZone: c.timeZone,
  currency: c.currency,
  lang: c.lang ?? "en",
  units: c.units,
  straightRun: c.straightRun,
  cellClear: c.cellClear,
  waterPerKgal: String(c.waterPerKgal),
  labourPerHour: String(c.labourPerHour),
  energyPerKwh: String(c.energyPerKwh),
  keepPhotosYears: String(c.keepPhotosYears),
  keepPeopleYears: String(c.keepPeopleYears),
});

/** How the company is set up; each setting says what it changes. */
export function Company({ stands }: { stands: CompanyView }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const { form, setForm, version, startFrom } = useBased(stands, typed);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const save = api.useMutation("put", "/api/v1/office");
  const problem = save.error as Problem | null;
  const theirs = problem?.status === 409 ? (problem.errors?.[0]?.value as CompanyView | undefined) : undefined;
  const says: Record<string, string> = { ...wrong, ...fieldSays(problem) };
  const put = (version: number) => {
    const read = Object.fromEntries(figures.map((f) => [f, readFigure(form[f])])) as Record<Figure, number>;
    const bad = Object.fromEntries(figures.filter((f) => Number.isNaN(read[f])).map((f) => [f, figureSays(form[f])]));
    setWrong(bad);
    if (Object.keys(bad).length) return;
    save.mutate(
      { body: { ...form, ...read, version } },
      {
        onSuccess: (kept) => {
          startFrom(kept);
          queries.invalidateQueries();
        },
      },
    );
  };
  return (
    <form
      className="settings"
      onSubmit={(e) => {
        e.preventDefault();
        put(theirs?.version ?? version);
      }}
    >
      {words.map((w) => (
        <FigureField
          key={w}
          id={`office-${w}`}
          words
          label={t(`office.fields.${w}`)}
          value={form[w]}
          say={says[w]}
          hint={t(`office.hints.${w}`)}
          onChange={(text) => setForm({ ...form, [w]: text })}
        />
      ))}
      <ChoiceField
        id="office-lang"
        label={t("office.fields.lang")}
        value={form.lang}
        options={languages.map((l) => ({ value: l, label: t(`languages.${l}`) }))}
        onChange={(lang) => setForm({ ...form, lang })}
      />
      <ChoiceField
        id="office-units"
        label={t("office.fields.units")}
        value={form.units}
        options={(["us", "metric"] as const).map((u) => ({ value: u, label: t(`office.units.${u}`) }))}
        onChange={(units) => setForm({ ...form, units })}
      />
      <p className="quiet">{t("office.hints.units")}</p>
      <ChoiceField
        id="office-straightRun"
        label={t("office.fields.straightRun")}
        value={form.straightRun}
        options={(["installer", "code"] as const).map((s) => ({ value: s, label: t(`office.straightRun.${s}`) }))}
        onChange={(straightRun) => setForm({ ...form, straightRun })}
      />
      <ChoiceField
        id="office-cellClear"
        label={t("office.fields.cellClear")}
        value={form.cellClear ? "yes" : "no"}
        options={(["no", "yes"] as const).map((s) => ({ value: s, label: t(`office.cellClear.${s}`) }))}
        onChange={(s) => setForm({ ...form, cellClear: s === "yes" })}
      />
      <p className="quiet">{t("office.hints.straightRun")}</p>
      {figures.map((f) => (
        <FigureField
          key={f}
          id={`office-${f}`}
          label={t(`office.fields.${f}`)}
          unit={f.startsWith("keep") ? t("lives.years") : form.currency}
          value={form[f]}
          say={says[f]}
          hint={t(`office.hints.${f}`)}
          onChange={(text) => setForm({ ...form, [f]: text })}
        />
      ))}
      {problem && problem.status !== 422 && (
        <p className="state-line" role="alert">
          <StateMark mark="act" />
          {problem.detail ?? t("state.offline")} {theirs && t("record.nowSays", { text: theirs.name })}
        </p>
      )}
      {save.isSuccess && (
        <p className="state-line" role="status">
          <StateMark mark="fine" />
          {t("cleaningSettings.saved")}
        </p>
      )}
      <button type="submit" className="btn main" id="office-save" disabled={save.isPending}>
        {t(theirs ? "record.keepMine" : "record.save")}
      </button>
    </form>
  );
}
