import { useTranslation } from "react-i18next";
import type { WalkFit } from "../../api/client";
import { figure } from "../../parts/format";
import { diamond } from "../../parts/glyphs";
import styles from "./clean-line.module.css";

/** Three to six round figures between two values, nought among them. */
function roundSteps(low: number, high: number): number[] {
  const rough = (high - low) / 4;
  const ten = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((m) => m * ten).find((s) => s >= rough) ?? rough;
  const out: number[] = [];
  for (let v = Math.ceil(low / step) * step; v <= high - step / 3; v += step) out.push(v);
  return out;
}

/** One meter against speed: the fitted line with its spread, and the points that were read. */
export function WalkChart({ fit, meter }: { fit: WalkFit; meter: string }) {
  const { t } = useTranslation();
  const line = fit.lines.find((l) => l.meter === meter);
  const points = fit.points.filter((p) => p.meter === meter);
  const ends = line?.points ?? [];
  if (!line || !ends.length) return null;
  const first = ends[0].rpm;
  const last = ends[ends.length - 1].rpm;
  const wide = last - first < 1;
  const high = Math.max(...ends.map((p) => p.value + 2 * p.sd), ...points.map((p) => p.read), 1) * 1.05;
  const low = Math.min(0, ...ends.map((p) => p.value - 2 * p.sd), ...points.map((p) => p.read));
  const x = (rpm: number) => 52 + (wide ? 0.5 : (rpm - first) / (last - first)) * 400;
  const y = (v: number) => 236 - ((v - low) / (high - low)) * 216;
  const xy = (rpm: number, v: number) => `${x(rpm).toFixed(1)},${y(v).toFixed(1)}`;
  const band = [
    ...ends.map((p) => xy(p.rpm, p.value + 2 * p.sd)),
    ...[...ends].reverse().map((p) => xy(p.rpm, Math.max(low, p.value - 2 * p.sd))),
  ];
  const ticks = roundSteps(low, high);
  return (
    <svg
      className={`chart ${styles["walk-chart"]}`}
      viewBox="0 0 480 272"
      role="img"
      aria-label={t("walk.chart", { meter: t(`meter.${meter}`), count: points.length })}
    >
      <polygon points={band.join(" ")} fill="var(--paper-deep)" />
      <path d="M52 14V236H462" stroke="var(--ink)" fill="none" />
      <g className="tick" textAnchor="end">
        {ticks.map((v) => (
          <text key={v} x="46" y={y(v) + 5}>
            {figure(v, "gpm")}
          </text>
        ))}
        <text x="46" y="12">
          {line.unit}
        </text>
      </g>
      <g className="tick" textAnchor="middle">
        {(wide ? [last] : [first, (first + last) / 2, last]).map((s, i) => (
          <text key={s} x={Math.min(x(s), 430)} y="258">
            {figure(Math.round(s / 50) * 50, "rpm")}
            {i === 2 || wide ? " rpm" : ""}
          </text>
        ))}
      </g>
      <polyline className="expected" points={ends.map((p) => xy(p.rpm, p.value)).join(" ")} />
      {points.map((p) => (
        <g key={`${p.rpm}-${p.read}`}>
          <path d={`M${x(p.rpm)} ${y(p.fitted)}V${y(p.read)}`} stroke="var(--measured)" strokeWidth="1.5" />
          <path className="gauge" d={diamond(x(p.rpm), y(p.read))} />
        </g>
      ))}
    </svg>
  );
}
