import { useTranslation } from "react-i18next";
import { http, type PoolAbout } from "../../api/client";
import { ChoiceField } from "../../parts/choice-field";
import { FigureField } from "../../parts/figure-field";
import { weekdayName } from "../../parts/format";
import { RecordEnd, useRecordForm } from "../../parts/record-form";
import { VolumeField } from "../../parts/volume-field";
import { WordsField } from "../../parts/words-field";

/** A pool's facts as they are typed. */
const typed = (a: PoolAbout) => ({
  street: a.street,
  which: a.which ?? "",
  town: a.town ?? "",
  gallons: String(Math.round(a.gallons)),
  surface: a.surface,
  ground: a.inGround ? "in" : "above",
  accessNote: a.accessNote,
  weekday: String(a.weekday),
  technicianId: a.technicianId ?? "",
  minutes: String(a.minutes),
  lapOrder: String(a.lapOrder),
  lat: a.lat == null ? "" : String(a.lat),
  lon: a.lon == null ? "" : String(a.lon),
  seasonOpens: a.seasonOpens,
  seasonCloses: a.seasonCloses,
});

/** What a pool is. When two desks change it, the second sees both and chooses. */
export function Facts({ stands }: { stands: PoolAbout }) {
  const { t } = useTranslation();
  const record = useRecordForm(stands, typed, {
    body: (form, read) => {
      const place = (field: "lat" | "lon") => (form[field].trim() === "" ? null : read(field, form[field]));
      return {
        gallons: read("gallons", form.gallons, "gal"),
        lat: place("lat"),
        lon: place("lon"),
        minutes: Math.round(read("minutes", form.minutes)),
        lapOrder: Math.round(read("lapOrder", form.lapOrder)),
        street: form.street,
        which: form.which,
        town: form.town,
        surface: form.surface,
        inGround: form.ground === "in",
        accessNote: form.accessNote,
        weekday: Number(form.weekday),
        technicianId: form.technicianId || undefined,
        seasonOpens: form.seasonOpens.trim(),
        seasonCloses: form.seasonCloses.trim(),
        customerId: stands.customerId,
      };
    },
    put: (body) => http.PUT("/api/v1/pools/{id}/about", { params: { path: { id: stands.id } }, body }),
    changed: "pool",
  });
  const { form, set, says } = record;
  return (
    <form className="settings" onSubmit={record.submit}>
      <fieldset disabled={!stands.mayEdit}>
        <WordsField
          id="about-street"
          label={t("pad.street")}
          value={form.street}
          say={says.street}
          onChange={(street) => set({ street })}
        />
        <WordsField
          id="about-which"
          label={t("pad.which")}
          hint={t("pad.whichHint")}
          value={form.which}
          say={says.which}
          onChange={(which) => set({ which })}
        />
        <WordsField
          id="about-town"
          label={t("pad.town")}
          value={form.town}
          say={says.town}
          onChange={(town) => set({ town })}
        />
        <WordsField
          id="about-access"
          label={t("record.access")}
          value={form.accessNote}
          hint={t("about.accessHint")}
          onChange={(accessNote) => set({ accessNote })}
        />
        <div className="life">
          <ChoiceField
            id="about-technician"
            label={t("pools.technician")}
            value={form.technicianId}
            say={says.technicianId}
            options={[
              { value: "", label: t("week.nobody") },
              ...stands.technicians.map((p) => ({ value: p.id, label: p.name })),
            ]}
            onChange={(technicianId) => set({ technicianId })}
          />
          <ChoiceField
            id="about-weekday"
            label={t("about.weekday")}
            value={form.weekday}
            options={[0, 1, 2, 3, 4, 5, 6].map((n) => ({ value: String(n), label: weekdayName(n) }))}
            onChange={(weekday) => set({ weekday })}
          />
        </div>
        <div className="life">
          <FigureField
            id="about-minutes"
            label={t("about.minutes")}
            unit="min"
            value={form.minutes}
            say={says.minutes}
            onChange={(minutes) => set({ minutes })}
          />
          <FigureField
            id="about-order"
            label={t("about.order")}
            value={form.lapOrder}
            say={says.lapOrder}
            onChange={(lapOrder) => set({ lapOrder })}
          />
        </div>
        <VolumeField
          id="about-gallons"
          value={form.gallons}
          say={says.gallons}
          onChange={(gallons) => set({ gallons })}
        />
        <div className="life">
          <WordsField
            id="about-surface"
            label={t("about.surface")}
            value={form.surface}
            hint={t("about.surfaceHint")}
            onChange={(surface) => set({ surface })}
          />
          <ChoiceField
            id="about-ground"
            label={t("about.ground")}
            value={form.ground}
            options={(["in", "above"] as const).map((g) => ({ value: g, label: t(`about.grounds.${g}`) }))}
            onChange={(ground) => set({ ground })}
          />
        </div>
        <p className="quiet">{stands.spa ? t("about.spa", { what: stands.spa }) : t("about.noSpa")}</p>
        <div className="life">
          <WordsField
            id="about-opens"
            label={t("cleaningSettings.opens")}
            value={form.seasonOpens}
            say={says.seasonOpens}
            hint={t("about.seasonHint")}
            onChange={(seasonOpens) => set({ seasonOpens })}
          />
          <WordsField
            id="about-closes"
            label={t("cleaningSettings.closes")}
            value={form.seasonCloses}
            say={says.seasonCloses}
            onChange={(seasonCloses) => set({ seasonCloses })}
          />
        </div>
        <div className="life">
          <FigureField
            id="about-lat"
            label={t("about.lat")}
            unit="°"
            value={form.lat}
            say={says.lat}
            hint={t("about.placeHint")}
            onChange={(lat) => set({ lat })}
          />
          <FigureField
            id="about-lon"
            label={t("about.lon")}
            unit="°"
            value={form.lon}
            say={says.lon}
            onChange={(lon) => set({ lon })}
          />
        </div>
      </fieldset>
      {stands.mayEdit ? (
        <RecordEnd
          record={record}
          id="about-save"
          theirs={(theirs) => (
            <ul id="about-theirs">
              {(Object.keys(form) as (keyof typeof form)[])
                .filter((k) => typed(theirs)[k] !== form[k])
                .map((k) => (
                  <li key={k}>{t("about.theirs", { field: t(`about.names.${k}`), text: typed(theirs)[k] || "–" })}</li>
                ))}
            </ul>
          )}
        />
      ) : (
        <p className="quiet">{t("cleaningSettings.desk")}</p>
      )}
    </form>
  );
}
