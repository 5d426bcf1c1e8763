import { useTranslation } from "react-i18next";
import { api, type CleaningSettings } from "../../api/client";
import { FigureField } from "../../parts/figure-field";
import type { ReadField } from "../../parts/record-form";

/** Lives as they are typed; an empty field is the usual. */
export interface TypedLives {
  days: Record<string, string>;
  years: Record<string, string>;
  kgal: Record<string, string>;
}

const texts = (from: Record<string, number>) =>
  Object.fromEntries(Object.entries(from).map(([k, v]) => [k, String(v)]));

export function typedLives(s: CleaningSettings): TypedLives {
  return {
    days: texts(s.serviceDays),
    years: texts(Object.fromEntries(Object.entries(s.partLives).map(([k, v]) => [k, v.years]))),
    kgal: texts(Object.fromEntries(Object.entries(s.partLives).map(([k, v]) => [k, v.kgal]))),
  };
}

/** What differs from the usual. */
export function readLives(l: TypedLives, usual: Record<string, number>, read: ReadField) {
  const serviceDays: Record<string, number> = {};
  for (const [id, text] of Object.entries(l.days)) {
    if (text.trim()) serviceDays[id] = read(`serviceDays.${id}`, text);
  }
  const partLives: Record<string, { years: number; kgal: number }> = {};
  for (const kind of new Set([...Object.keys(l.years), ...Object.keys(l.kgal)])) {
    const years = l.years[kind]?.trim();
    const kgal = l.kgal[kind]?.trim();
    if (!years && !kgal) continue;
    partLives[kind] = {
      years: years ? read(`partLives.${kind}`, years) : usual[kind],
      kgal: kgal ? read(`partLives.${kind}`, kgal) : 0,
    };
  }
  return { serviceDays, partLives };
}

/** How often services come round, and how long parts last: by years, by use, or both. */
export function Lives({
  lives,
  says,
  onChange,
}: {
  lives: TypedLives;
  says: Record<string, string>;
  onChange: (l: TypedLives) => void;
}) {
  const { t } = useTranslation();
  const usual = api.useQuery("get", "/api/v1/service-lives").data;
  if (!usual) return null;
  const set = (part: keyof TypedLives, key: string, text: string) =>
    onChange({ ...lives, [part]: { ...lives[part], [key]: text } });
  return (
    <>
      <h2>{t("lives.services")}</h2>
      <p className="quiet">{t("lives.visit", { what: usual.visit.join(", ") })}</p>
      {usual.services.map((s) => (
        <FigureField
          key={s.id}
          id={`days-${s.id}`}
          label={s.name}
          unit={t("lives.days")}
          value={lives.days[s.id] ?? ""}
          hint={t("lives.usual", { n: s.days })}
          say={says[`serviceDays.${s.id}`]}
          onChange={(text) => set("days", s.id, text)}
        />
      ))}
      <h2>{t("lives.parts")}</h2>
      <p className="quiet">{t("lives.first")}</p>
      {usual.parts.map((p) => (
        <div key={p.kind} className="life">
          <FigureField
            id={`years-${p.kind.replace(/\W/g, "-")}`}
            label={p.name}
            unit={t("lives.years")}
            value={lives.years[p.kind] ?? ""}
            hint={t("lives.usual", { n: p.years })}
            say={says[`partLives.${p.kind}`]}
            onChange={(text) => set("years", p.kind, text)}
          />
          <FigureField
            label={t("lives.use", { kind: p.name })}
            unit={t("lives.kgal")}
            value={lives.kgal[p.kind] ?? ""}
            hint={t("lives.notByUse")}
            onChange={(text) => set("kgal", p.kind, text)}
          />
        </div>
      ))}
    </>
  );
}
