import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { fieldSays, http, type PlanView as Plan, type Problem } from "../../api/client";
import { ChoiceField } from "../../parts/choice-field";
import { FigureField } from "../../parts/figure-field";
import { FileField, FileSays } from "../../parts/file-field";
import { Fold } from "../../parts/fold";
import { hourClock } from "../../parts/format";
import { figureSays, readFigure, readHour } from "../../parts/read-figure";
import styles from "./plan.module.css";

type Needs = Plan["needs"];

const figures = [
  "turnovers",
  "highHours",
  "highRpm",
  "cellHours",
  "leastRun",
  "quietRpm",
  "lowRpm",
  "skimRpm",
  "cleanRpm",
  "spaRpm",
  "slots",
  "starts",
  "primeMin",
  "startWear",
] as const;
const spans = ["heat", "highIn", "clean", "spa", "awake", "frost", "quiet", "peak"] as const;
type Figure = (typeof figures)[number];
type Span = (typeof spans)[number];

/** Needs as they are typed: a span as its two hours. */
export type TypedNeeds = Record<Figure | `${Span}From` | `${Span}To` | "flat", string> & {
  peakWay: Needs["peakWay"];
  media: Needs["media"];
  unheated: boolean;
  tariff: Needs["tariff"];
};

export function typedNeeds(n: Needs): TypedNeeds {
  const out: Record<string, unknown> = {
    peakWay: n.peakWay,
    media: n.media,
    unheated: n.unheated ?? false,
    tariff: n.tariff,
    flat: String(n.tariff.flat),
  };
  for (const f of figures) out[f] = String(n[f]);
  for (const s of spans) {
    const span = n[s] ?? { from: 0, to: 0 };
    const none = span.from === span.to;
    out[`${s}From`] = none ? "" : hourClock(span.from);
    out[`${s}To`] = none ? "" : hourClock(span.to);
  }
  return out as TypedNeeds;
}

/** What was typed as needs, and which fields are no figures. */
export function readNeeds(f: TypedNeeds, stands: Needs): { needs: Needs; wrong: Record<string, string> } {
  const wrong: Record<string, string> = {};
  const read = (text: string, key: string, as: (text: string) => number = readFigure) => {
    const v = text.trim() === "" ? 0 : as(text);
    if (Number.isNaN(v)) wrong[key] = figureSays(text);
    return Number.isNaN(v) ? 0 : v;
  };
  const needs: Needs = {
    ...stands,
    peakWay: f.peakWay,
    media: f.media,
    unheated: f.unheated,
    tariff: { ...f.tariff, flat: read(f.flat, "tariff.flat") },
  };
  for (const k of figures) needs[k] = read(f[k], k);
  needs.slots = Math.round(needs.slots);
  needs.starts = Math.round(needs.starts);
  for (const s of spans) needs[s] = { from: read(f[`${s}From`], s, readHour), to: read(f[`${s}To`], s, readHour) };
  return { needs, wrong };
}

export function NeedsForm({
  form,
  says,
  view,
  onChange,
}: {
  form: TypedNeeds;
  says: Record<string, string>;
  view: Plan;
  onChange: (part: Partial<TypedNeeds>) => void;
}) {
  const { t } = useTranslation();
  const [file, setFile] = useState<Record<string, string>>({});
  const field = (f: Figure, unit: string) => (
    <FigureField
      key={f}
      id={`need-${f}`}
      label={t(`plan.need.${f}`)}
      unit={unit}
      value={form[f]}
      say={says[f]}
      onChange={(text) => onChange({ [f]: text })}
    />
  );
  const hours = (s: Span) => (
    <fieldset key={s} className={styles["span-field"]}>
      <legend>{t(`plan.need.${s}`)}</legend>
      <div className="life">
        <FigureField
          id={`need-${s}-from`}
          label={t("plan.from")}
          value={form[`${s}From`]}
          say={says[s]}
          onChange={(text) => onChange({ [`${s}From`]: text })}
        />
        <FigureField
          id={`need-${s}-to`}
          label={t("plan.to")}
          value={form[`${s}To`]}
          onChange={(text) => onChange({ [`${s}To`]: text })}
        />
      </div>
    </fieldset>
  );
  const readTariff = async (text: string) => {
    const { data, error } = await http.POST("/api/v1/tariffs/read", { body: { text } });
    setFile(error ? fieldSays(error as Problem) : {});
    if (data) onChange({ tariff: data });
  };
  return (
    <div className="settings">
      {field("turnovers", t("plan.times"))}
      {view.kind === "single" && field("leastRun", "h")}
      {view.kind !== "single" && (
        <div className="life">
          {field("highHours", "h")}
          {field("highRpm", "rpm")}
        </div>
      )}
      {view.kind !== "single" && hours("highIn")}
      {view.kind !== "single" && field("skimRpm", "rpm")}
      {view.hasCell && field("cellHours", "h")}
      {view.hasHeater && (
        <ChoiceField
          id="need-heated"
          label={t("plan.need.heated")}
          value={form.unheated ? "no" : "yes"}
          options={(["yes", "no"] as const).map((m) => ({ value: m, label: t(`plan.heated.${m}`) }))}
          onChange={(heated) => onChange({ unheated: heated === "no" })}
        />
      )}
      {view.hasHeater && !form.unheated && hours("heat")}
      <ChoiceField
        id="need-media"
        label={t("plan.need.media")}
        value={form.media}
        options={(["hard", "gentle"] as const).map((m) => ({ value: m, label: t(`plan.medias.${m}`) }))}
        onChange={(media) => onChange({ media })}
      />
      <ChoiceField
        id="need-peakWay"
        label={t("plan.need.peakWay")}
        value={form.peakWay}
        options={(["low", "off", "free"] as const).map((m) => ({ value: m, label: t(`plan.peaks.${m}`) }))}
        onChange={(peakWay) => onChange({ peakWay })}
      />
      {form.peakWay !== "free" && hours("peak")}
      {form.peakWay === "low" && view.kind !== "single" && field("lowRpm", "rpm")}
      {hours("quiet")}
      {view.kind !== "single" && field("quietRpm", "rpm")}
      {hours("awake")}
      {hours("frost")}
      {form.tariff.bands?.length ? (
        <p className="part-acts">
          {t("plan.banded", { count: form.tariff.bands.length })}
          <Button type="link" onClick={() => onChange({ tariff: { ...form.tariff, bands: undefined } })}>
            {t("plan.flatAgain")}
          </Button>
        </p>
      ) : (
        <FigureField
          id="need-flat"
          label={t("office.fields.energyPerKwh")}
          value={form.flat}
          say={says["tariff.flat"]}
          onChange={(flat) => onChange({ flat })}
        />
      )}
      <FileField id="need-tariff" label={t("plan.tariffFile")} accept=".csv,text/csv" onFile={readTariff} />
      <FileSays says={file} />
      {says["tariff.bands"] && <p className="field-says">{says["tariff.bands"]}</p>}
      <Fold head={t("plan.more")}>
        <div className="life">
          {field("slots", "")}
          {field("starts", "")}
        </div>
        <div className="life">
          {field("primeMin", "min")}
          {field("startWear", "")}
        </div>
        {view.kind !== "single" && (
          <>
            {hours("clean")}
            {field("cleanRpm", "rpm")}
            {hours("spa")}
            {field("spaRpm", "rpm")}
          </>
        )}
      </Fold>
    </div>
  );
}
