import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, type PoolAbout, type Problem } from "../../api/client";
import { ChoiceField, FigureField } from "../../parts/figure-field";
import { weekdayName } from "../../parts/format";
import { figureSays, readFigure } from "../../parts/read-figure";
import { StateMark } from "../../parts/state-mark";
import { useBased } from "../../parts/use-based";
import { VolumeField } from "../../parts/volume-field";

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
  const queries = useQueryClient();
  const { form, setForm, version, startFrom } = useBased(stands, typed);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const save = api.useMutation("put", "/api/v1/pools/{id}/about");
  const problem = save.error as Problem | null;
  const theirs = problem?.status === 409 ? (problem.errors?.[0]?.value as PoolAbout | undefined) : undefined;
  const says: Record<string, string> = { ...wrong, ...fieldSays(problem) };
  const set = (part: Partial<typeof form>) => setForm({ ...form, ...part });
  const put = (version: number) => {
    const bad: Record<string, string> = {};
    const read = (key: "gallons" | "minutes" | "lapOrder" | "lat" | "lon") => {
      const text = form[key].trim();
      if (text === "" && (key === "lat" || key === "lon")) return null;
      const unit = key === "gallons" ? "gal" : undefined;
      const v = readFigure(text, unit);
      if (Number.isNaN(v)) bad[key] = figureSays(text, unit);
      return v;
    };
    const figures = { gallons: read("gallons") ?? 0, lat: read("lat"), lon: read("lon") };
    const whole = { minutes: Math.round(read("minutes") ?? 0), lapOrder: Math.round(read("lapOrder") ?? 0) };
    setWrong(bad);
    if (Object.keys(bad).length) return;
    save.mutate(
      {
        params: { path: { id: stands.id } },
        body: {
          ...figures,
          ...whole,
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
          version,
        },
      },
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
      <fieldset disabled={!stands.mayEdit}>
        <FigureField
          id="about-street"
          words
          label={t("pad.street")}
          value={form.street}
          say={says.street}
          onChange={(street) => set({ street })}
        />
        <FigureField
          id="about-which"
          words
          label={t("pad.which")}
          hint={t("pad.whichHint")}
          value={form.which}
          say={says.which}
          onChange={(which) => set({ which })}
        />
        <FigureField
          id="about-town"
          words
          label={t("pad.town")}
          value={form.town}
          say={says.town}
          onChange={(town) => set({ town })}
        />
        <FigureField
          id="about-access"
          words
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
          <FigureField
            id="about-surface"
            words
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
          <FigureField
            id="about-opens"
            words
            label={t("cleaningSettings.opens")}
            value={form.seasonOpens}
            say={says.seasonOpens}
            hint={t("about.seasonHint")}
            onChange={(seasonOpens) => set({ seasonOpens })}
          />
          <FigureField
            id="about-closes"
            words
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
      {problem && problem.status !== 422 && (
        <div className="state-line" role="alert">
          <StateMark mark="act" />
          <span>
            {problem.detail ?? t("state.offline")}
            {theirs && (
              <ul id="about-theirs">
                {(Object.keys(form) as (keyof typeof form)[])
                  .filter((k) => typed(theirs)[k] !== form[k])
                  .map((k) => (
                    <li key={k}>
                      {t("about.theirs", { field: t(`about.names.${k}`), text: typed(theirs)[k] || "–" })}
                    </li>
                  ))}
              </ul>
            )}
          </span>
        </div>
      )}
      {save.isSuccess && (
        <p className="state-line" role="status">
          <StateMark mark="fine" />
          {t("cleaningSettings.saved")}
        </p>
      )}
      {stands.mayEdit ? (
        <span className="part-acts">
          <button type="submit" className="btn main" id="about-save" disabled={save.isPending}>
            {t(theirs ? "record.keepMine" : "record.save")}
          </button>
          {theirs && (
            <button
              type="button"
              className="btn"
              onClick={() => {
                startFrom(theirs);
                save.reset();
              }}
            >
              {t("record.keepTheirs")}
            </button>
          )}
        </span>
      ) : (
        <p className="quiet">{t("cleaningSettings.desk")}</p>
      )}
    </form>
  );
}
