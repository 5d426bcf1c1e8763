import { useTranslation } from "react-i18next";
import type { Bench, Verdict } from "../api/client";
import { percent, shortDay } from "./format";
import { diamond } from "./glyphs";
import styles from "./load-fan.module.css";

/** Load since the last cleaning, today's, and the fan to the next visit. */
export default function LoadFan({
  points,
  verdict,
  today,
  next,
}: {
  points: Bench["points"];
  verdict: Verdict;
  today: Date;
  next: Date;
}) {
  const { t } = useTranslation();
  const first = points.length ? Date.parse(points[0].at) : today.getTime() - 7 * 86_400_000;
  const span = Math.max(next.getTime() - first, 86_400_000);
  const x = (at: number) => 8 + ((at - first) / span) * 284;
  const days = verdict.forecast.days?.filter((d) => today.getTime() + d.day * 86_400_000 <= next.getTime() + 1) ?? [];
  const top = Math.max(1.45, verdict.load.mean, ...points.map((p) => p.load), ...days.map((d) => d.p90));
  const y = (load: number) => 80 - (Math.max(0, load) / top) * 78;
  const at = (d: number) => x(today.getTime() + d * 86_400_000);
  const line = [
    ...points.map((p) => `${x(Date.parse(p.at)).toFixed(1)},${y(p.load).toFixed(1)}`),
    `${x(today.getTime()).toFixed(1)},${y(verdict.load.mean).toFixed(1)}`,
  ];
  const fan = [
    ...days.map((d) => `${at(d.day).toFixed(1)},${y(d.p90).toFixed(1)}`),
    ...days.map((d) => `${at(d.day).toFixed(1)},${y(d.p10).toFixed(1)}`).reverse(),
  ].join(" ");
  const last = days.at(-1);
  const label = t("cleaning.fanLabel", {
    now: percent(Math.max(0, verdict.load.mean)),
    low: percent(Math.max(0, last?.p10 ?? 0)),
    high: percent(Math.max(0, last?.p90 ?? 0)),
    by: shortDay(next),
  });
  return (
    <svg className={styles.fan} viewBox="0 0 304 98" role="img" aria-label={label}>
      <defs>
        <pattern id="over" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
          <path d="M0 0v5" stroke="var(--act)" strokeWidth="1.6" />
        </pattern>
        <clipPath id="over-limit">
          <rect x="0" y="0" width="304" height={y(1)} />
        </clipPath>
      </defs>
      <polygon points={fan} fill="var(--paper-deep)" />
      <polygon points={fan} fill="url(#over)" clipPath="url(#over-limit)" />
      <path d={`M2 ${y(1)}H302`} stroke="var(--ink)" strokeWidth="1.5" />
      <text className="tick" x="2" y={y(1) - 5}>
        {t("cleaning.limit")}
      </text>
      <polyline
        className="expected"
        points={days.map((d) => `${at(d.day).toFixed(1)},${y(d.p50).toFixed(1)}`).join(" ")}
      />
      <polyline className="measured thin" points={line.join(" ")} />
      {points.map((p) => (
        <path key={p.at} className="gauge" d={diamond(x(Date.parse(p.at)), y(p.load), 5.5)} />
      ))}
      {verdict.known && <path className="gauge" d={diamond(x(today.getTime()), y(verdict.load.mean), 5.5)} />}
      <path d="M2 80H302" stroke="var(--line-strong)" />
      <path d={`M${x(next.getTime())} 2V84`} stroke="var(--ink)" />
      <g className="tick">
        {points.length > 0 && (
          <text x="2" y="95">
            {shortDay(points[0].at)}
            {points[0].cleaned ? `, ${t("cleaning.cleaned")}` : ""}
          </text>
        )}
        <text x={Math.min(Math.max(x(today.getTime()), 150), 230)} y="95" textAnchor="middle">
          {t("cleaning.today")}
        </text>
        <text x="302" y="95" textAnchor="end">
          {shortDay(next)}
        </text>
      </g>
    </svg>
  );
}
