import { useTranslation } from "react-i18next";
import { type CompanyView, http } from "../../api/client";
import { languages } from "../../i18n";
import { ChoiceField } from "../../parts/choice-field";
import { FigureField, TickField } from "../../parts/figure-field";
import { RecordEnd, useRecordForm } from "../../parts/record-form";
import { WordsField } from "../../parts/words-field";

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
  techniciansLink: c.techniciansLink ?? false,
  waterPerKgal: String(c.waterPerKgal),
  labourPerHour: String(c.labourPerHour),
  energyPerKwh: String(c.energyPerKwh),
  keepPhotosYears: String(c.keepPhotosYears),
  keepPeopleYears: String(c.keepPeopleYears),
});

/** How the company is set up; each setting says what it changes. */
export function Company({ stands }: { stands: CompanyView }) {
  const { t } = useTranslation();
  const record = useRecordForm(stands, typed, {
    body: (form, read) => ({
      ...form,
      ...(Object.fromEntries(figures.map((f) => [f, read(f, form[f])])) as Record<Figure, number>),
    }),
    put: (body) => http.PUT("/api/v1/office", { body }),
    changed: "everything",
  });
  const { form, set, says } = record;
  return (
    <form className="settings" onSubmit={record.submit}>
      {words.map((w) => (
        <WordsField
          key={w}
          id={`office-${w}`}
          label={t(`office.fields.${w}`)}
          value={form[w]}
          say={says[w]}
          hint={t(`office.hints.${w}`)}
          onChange={(text) => set({ [w]: text })}
        />
      ))}
      <ChoiceField
        id="office-lang"
        label={t("office.fields.lang")}
        value={form.lang}
        options={languages.map((l) => ({ value: l, label: t(`languages.${l}`) }))}
        onChange={(lang) => set({ lang })}
      />
      <ChoiceField
        id="office-units"
        label={t("office.fields.units")}
        value={form.units}
        options={(["us", "metric"] as const).map((u) => ({ value: u, label: t(`office.units.${u}`) }))}
        onChange={(units) => set({ units })}
      />
      <p className="quiet">{t("office.hints.units")}</p>
      <ChoiceField
        id="office-straightRun"
        label={t("office.fields.straightRun")}
        value={form.straightRun}
        options={(["installer", "code"] as const).map((s) => ({ value: s, label: t(`office.straightRun.${s}`) }))}
        onChange={(straightRun) => set({ straightRun })}
      />
      <ChoiceField
        id="office-cellClear"
        label={t("office.fields.cellClear")}
        value={form.cellClear ? "yes" : "no"}
        options={(["no", "yes"] as const).map((s) => ({ value: s, label: t(`office.cellClear.${s}`) }))}
        onChange={(s) => set({ cellClear: s === "yes" })}
      />
      <p className="quiet">{t("office.hints.straightRun")}</p>
      <TickField
        id="office-techniciansLink"
        label={t("office.fields.techniciansLink")}
        checked={form.techniciansLink}
        onChange={(techniciansLink) => set({ techniciansLink })}
      />
      {figures.map((f) => (
        <FigureField
          key={f}
          id={`office-${f}`}
          label={t(`office.fields.${f}`)}
          unit={f.startsWith("keep") ? t("lives.years") : form.currency}
          value={form[f]}
          say={says[f]}
          hint={t(`office.hints.${f}`)}
          onChange={(text) => set({ [f]: text })}
        />
      ))}
      <RecordEnd record={record} id="office-save" theirs={(r) => t("record.nowSays", { text: r.name })} />
    </form>
  );
}
