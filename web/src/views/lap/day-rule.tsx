import { useTranslation } from "react-i18next";
import type { LapView } from "../../api/client";
import { clock } from "../../parts/format";
import styles from "./lap.module.css";

const minute = 60_000;

/** The day drawn along a graduated rule: stops, now, the limit. */
export function DayRule({ lap, now }: { lap: LapView; now: Date }) {
  const { t } = useTranslation();
  const start = Date.parse(lap.startsAt);
  const limit = start + lap.limitMinutes * minute;
  const from = start - 15 * minute;
  const to = Math.max(limit, start + lap.minutes * minute) + 45 * minute;
  const x = (at: number) => 8 + ((at - from) / (to - from)) * 1016;
  const cells: number[] = [];
  for (let at = Math.ceil(from / (15 * minute)) * 15 * minute; at < to; at += 15 * minute) cells.push(at);
  const hours = cells.filter(
    (at) => at % (60 * minute) === 0 && Math.abs(x(at) - x(now.getTime())) > 62 && Math.abs(x(at) - x(limit)) > 130,
  );
  const nowX = x(now.getTime());
  const nowIn = now.getTime() > from && now.getTime() < to;
  const last = lap.stops.at(-1);
  const end = last ? Date.parse(last.plannedAt) + last.minutes * minute : start;
  return (
    <svg
      className={styles.dayrule}
      viewBox="0 0 1032 66"
      role="img"
      aria-label={t("lap.dayLabel", {
        from: clock(new Date(start)),
        to: clock(new Date(end)),
        limit: clock(new Date(limit)),
      })}
    >
      <path d={`M${x(start)} 21H${x(end)}`} stroke="var(--ink)" strokeWidth="1.75" strokeDasharray="7 5" />
      {lap.stops.map((s) => {
        const a = x(Date.parse(s.plannedAt));
        const b = x(Date.parse(s.plannedAt) + s.minutes * minute);
        const label = (
          <text x={(a + b) / 2} y="27" textAnchor="middle" className={s.state === "ahead" ? "" : styles.rv}>
            {s.position}
          </text>
        );
        if (s.state === "here")
          return (
            <g key={s.id}>
              <path d={`M${a} 4H${b}L${b + 9} 21L${b} 38H${a}Z`} fill="var(--petrol)" />
              {label}
            </g>
          );
        return (
          <g key={s.id}>
            <rect
              x={a}
              y="8"
              width={b - a}
              height="26"
              fill={s.state === "done" ? "var(--ink)" : "var(--paper)"}
              stroke="var(--ink)"
              strokeWidth="1.6"
              strokeDasharray={s.state === "done" ? undefined : "7 5"}
            />
            {label}
          </g>
        );
      })}
      <g stroke="var(--ink)" strokeWidth=".8">
        {cells.map((at, i) => (
          <rect
            key={at}
            x={x(at)}
            y="42"
            width={x(at + 15 * minute) - x(at)}
            height="5"
            fill={i % 2 ? "var(--ink)" : "var(--paper)"}
          />
        ))}
      </g>
      <g className="tick" textAnchor="middle">
        {hours.map((at) => (
          <text key={at} x={x(at)} y="62">
            {clock(new Date(at))}
          </text>
        ))}
      </g>
      {nowIn && (
        <>
          <path d={`M${nowX} 4V50`} stroke="var(--petrol)" strokeWidth="3" />
          <text className={styles["now-t"]} x={nowX} y="63" textAnchor="middle">
            {t("lap.now", { at: clock(now) })}
          </text>
        </>
      )}
      <path d={`M${x(limit)} 0V48`} stroke="var(--ink)" strokeWidth="3" />
      <text className="note" x={x(limit) - 8} y="63" textAnchor="end">
        {t("lap.limitAt", { at: clock(new Date(limit)) })}
      </text>
    </svg>
  );
}
