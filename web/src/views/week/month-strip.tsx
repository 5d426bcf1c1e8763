import { useDndContext, useDroppable } from "@dnd-kit/core";
import { useTranslation } from "react-i18next";
import type { WeekView } from "../../api/client";
import { planDay } from "../../parts/format";
import { loadOf, takes } from "./drag";
import styles from "./week.module.css";

type StripDay = WeekView["strip"][number];

/** The five weeks ahead, a bar a day: minutes against the limit, filters to clean. A day takes what is dropped on it. */
export function MonthStrip({ week, onWeek }: { week: WeekView; onWeek: (n: number) => void }) {
  const { t } = useTranslation();
  const first = Date.parse(week.strip[0]?.date ?? week.from);
  const shown = Math.round((Date.parse(week.from) - first) / 604_800_000);
  const weeks: StripDay[][] = [];
  for (const d of week.strip) {
    const n = Math.max(0, Math.floor((Date.parse(d.date) - first) / 604_800_000));
    weeks[n] = [...(weeks[n] ?? []), d];
  }
  return (
    <nav className={styles["strip-weeks"]} aria-label={t("week.strip")}>
      {weeks.map((days, n) => (
        <section key={days[0].date} className={n === shown ? styles.on : ""}>
          <button
            type="button"
            className={styles["strip-week"]}
            aria-pressed={n === shown}
            onClick={() => onWeek(n + 1)}
          >
            {n === 0 ? t("week.thisWeek") : t("week.weekOf", { day: planDay(days[0].date) })}
          </button>
          <ol>
            {days.map((d) => (
              <StripBar key={d.date} day={d} />
            ))}
          </ol>
        </section>
      ))}
    </nav>
  );
}

function StripBar({ day: d }: { day: StripDay }) {
  const { t } = useTranslation();
  const place = { date: d.date };
  const load = loadOf(useDndContext().active);
  const { setNodeRef, isOver } = useDroppable({
    id: `strip|${d.date}`,
    data: { place },
    disabled: !load || !takes(load, place),
  });
  const share = d.limit > 0 ? Math.min(1, d.minutes / d.limit) : 0;
  const may = load && takes(load, place);
  return (
    <li
      ref={setNodeRef}
      data-strip={d.date}
      className={`${may ? styles.may : ""} ${isOver ? "over" : ""}`}
      title={t("week.stripDay", {
        day: planDay(d.date),
        stops: d.stops,
        minutes: Math.round(d.minutes),
        limit: d.limit,
        clean: d.clean,
        other: d.other,
      })}
    >
      <i className="bar" aria-hidden="true">
        <i style={{ height: `${Math.round(100 * share)}%` }} />
      </i>
      <span className="day-n">{planDay(d.date).split(" ")[1]}</span>
      <span className="sr">
        {t("week.stripDay", {
          day: planDay(d.date),
          stops: d.stops,
          minutes: Math.round(d.minutes),
          limit: d.limit,
          clean: d.clean,
          other: d.other,
        })}
      </span>
      <span className="clean-n" aria-hidden="true">
        {[d.clean > 0 ? `${d.clean}▴` : "", d.other > 0 ? `${d.other}–` : ""].filter(Boolean).join(" ") || "\u00a0"}
      </span>
    </li>
  );
}
