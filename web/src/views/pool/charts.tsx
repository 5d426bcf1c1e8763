import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { PoolRecordView } from "../../api/client";
import { axisMarks, day, figure, longDay, measured, now, percent, shortDay, unitOf } from "../../parts/format";
import { diamond } from "../../parts/glyphs";
import styles from "./pool.module.css";

const dayMs = 86_400_000;

/** Tank gauge against speed: the clean line, the limit, and what was read lately. */
export function CleanLineChart({ view }: { view: PoolRecordView }) {
  const { t } = useTranslation();
  const line = view.line;
  const first = line[0]?.rpm ?? 0;
  const last = line.at(-1)?.rpm ?? 3450;
  const single = last - first < 1;
  const top = Math.max(
    20,
    Math.ceil((Math.max(...line.map((p) => p.limit), ...view.gauges.map((g) => g.psi)) + 1) / 10) * 10,
  );
  const low = Math.min(0, Math.floor(Math.min(...line.map((p) => p.clean))));
  const axis = axisMarks(top, "psi", 10);
  const x = (rpm: number) => 40 + (single ? 0.5 : (rpm - first) / (last - first)) * 345;
  const y = (psi: number) => 262 - ((psi - low) / (top - low)) * 246;
  const path = (key: "clean" | "limit") => line.map((p) => `${x(p.rpm).toFixed(1)},${y(p[key]).toFixed(1)}`).join(" ");
  const visits = [...new Set(view.gauges.map((g) => g.at))].slice(-3);
  const marks = view.gauges.filter((g) => visits.includes(g.at));
  const speeds = single ? [last] : [first, first + (last - first) / 2, last];
  const end = line.at(-1);
  return (
    <>
      <svg
        className="chart"
        viewBox="0 0 400 292"
        role="img"
        aria-label={t("record.lineLabel", { count: marks.length })}
      >
        <g className="grid">
          {axis.map((p) => (
            <path key={p.at} d={`M40 ${y(p.at)}H388`} />
          ))}
        </g>
        <path d={`M40 12V${y(low)}H388`} stroke="var(--ink)" fill="none" />
        <g className="tick" textAnchor="end">
          {[{ at: 0, label: "0" }, ...axis].map((p) => (
            <text key={p.at} x="34" y={y(p.at) + 5}>
              {p === axis.at(-1) ? unitOf("psi") : p.label}
            </text>
          ))}
        </g>
        <g className="tick" textAnchor="middle">
          {speeds.map((s, i) => (
            <text key={s} x={Math.min(x(s), 356)} y="284">
              {figure(Math.round(s / 50) * 50, "rpm")}
              {i === speeds.length - 1 ? " rpm" : ""}
            </text>
          ))}
        </g>
        {view.older.map((o, i) => (
          <g key={o.at} opacity={0.62 - 0.16 * i}>
            <polyline
              className={styles.older}
              points={o.points.map((p) => `${x(p.rpm).toFixed(1)},${y(p.clean).toFixed(1)}`).join(" ")}
            />
            <text className="note" x="384" y={y(o.points.at(-1)?.clean ?? 0) + 44 + 20 * i} textAnchor="end">
              {t("record.older", { at: longDay(o.at) })}
            </text>
          </g>
        ))}
        <polyline className="expected" points={path("clean")} />
        <polyline points={path("limit")} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
        {end && (
          <g className="halo">
            <text className="note" x="376" y={y(end.limit) - 8} textAnchor="end">
              {t("record.limit")}
            </text>
            <text className="note" x="384" y={y(end.clean) + 26} textAnchor="end">
              {t("record.cleanLineShort")}
            </text>
          </g>
        )}
        {marks.map((g) => (
          <g key={g.at + g.psi}>
            {g.after ? (
              <circle cx={x(g.rpm)} cy={y(g.psi)} r="4.5" fill="var(--measured)" />
            ) : (
              <>
                <path className="gauge" d={diamond(x(g.rpm), y(g.psi))} />
                {g.at !== visits.at(-1) && (
                  <path
                    d={`M${x(g.rpm)} ${y(g.psi) - 7}L${x(g.rpm) - 7} ${y(g.psi)}L${x(g.rpm)} ${y(g.psi) + 7}Z`}
                    fill="var(--measured)"
                  />
                )}
              </>
            )}
          </g>
        ))}
        <g transform="translate(52 20)">
          {marks.length > 0 && (
            <>
              <path className="gauge" d={diamond(6, 4, 6)} />
              <text className="note" x="20" y="10">
                {day(visits.at(-1) ?? "")}
              </text>
              <path className="gauge" d={diamond(6, 26, 6)} />
              <path d="M6 20L0 26L6 32Z" fill="var(--measured)" />
              <text className="note" x="20" y="32">
                {t("record.before")}
              </text>
              <circle cx="6" cy="48" r="4.5" fill="var(--measured)" />
              <text className="note" x="20" y="54">
                {t("record.afterCleaning")}
              </text>
            </>
          )}
        </g>
      </svg>
      <table className="sr">
        <caption>{t("record.cleanLine")}</caption>
        <tbody>
          {line.map((p) => (
            <tr key={p.rpm}>
              <th scope="row">{figure(p.rpm, "rpm")} rpm</th>
              <td>{measured(p.clean, "psi")}</td>
              <td>{measured(p.limit, "psi")}</td>
            </tr>
          ))}
          {view.older.map((o) => (
            <tr key={o.at}>
              <th scope="row">{t("record.older", { at: longDay(o.at) })}</th>
              <td colSpan={2}>
                {o.points.map((p) => `${measured(p.rpm, "rpm")} rpm ${figure(p.clean, "psi")}`).join(", ")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

/** How much of the load is drawn unless somebody asks for more. */
const recentWeeks = 12;

/** Labels that have room beside the one before. */
function apart<T extends { x: number }>(labels: T[]): T[] {
  const out: T[] = [];
  for (const l of labels) {
    const before = out.at(-1);
    if (!before || l.x - before.x > 58) out.push(l);
  }
  return out;
}

/** Load by date, cleanings as arrows, and the forecast's fan. */
export function LoadChart({ view }: { view: PoolRecordView }) {
  const { t } = useTranslation();
  const [whole, setWhole] = useState(false);
  const today = now().getTime();
  const recent = view.points.filter((p) => Date.parse(p.at) > today - recentWeeks * 7 * dayMs);
  const points = whole || recent.length === 0 ? view.points : recent;
  const from = Date.parse(points[0].at);
  const to = today + 14 * dayMs;
  const x = (at: number) => 44 + ((at - from) / (to - from)) * 540;
  const days = view.forecast.days ?? [];
  const top = Math.max(1.25, ...points.map((p) => p.load), ...days.map((d) => d.p90));
  const y = (load: number) => 262 - (Math.max(0, load) / top) * 226;
  const step = top > 2 ? 0.5 : 0.25;
  const steps = Array.from({ length: Math.floor(top / step) + 1 }, (_, i) => i * step);
  const cleanings = points.filter((p) => p.cleaned);
  const runs: (typeof points)[] = [[]];
  for (const p of points) {
    if (p.cleaned) runs.push([]);
    runs[runs.length - 1].push(p);
  }
  const at = (d: number) => x(today + d * dayMs);
  const fan = [
    ...days.map((d) => `${at(d.day).toFixed(1)},${y(d.p90).toFixed(1)}`),
    ...days.map((d) => `${at(d.day).toFixed(1)},${y(d.p10).toFixed(1)}`).reverse(),
  ].join(" ");
  const last = points.at(-1);
  return (
    <>
      <svg
        className="chart"
        viewBox="0 0 592 292"
        role="img"
        aria-label={t("record.loadLabel", { from: shortDay(points[0].at), count: cleanings.length })}
      >
        <g className="grid">
          {steps.map((l) => (
            <path key={l} d={`M44 ${y(l)}H584`} />
          ))}
        </g>
        <polygon points={fan} fill="var(--paper-deep)" />
        <path d={`M44 ${y(1)}H584`} stroke="var(--ink)" strokeWidth="1.5" />
        <path d="M44 262H584" stroke="var(--ink)" />
        <g className="tick" textAnchor="end">
          {steps.map((l) => (
            <text key={l} x="38" y={y(l) + 5}>
              {percent(l)}
            </text>
          ))}
          <text x="18" y="14">
            %
          </text>
        </g>
        <text className="note" x="50" y={y(1) - 6}>
          {t("record.limit")}
        </text>
        <g className={styles.cleanmarks}>
          {cleanings.map((p) => {
            const cx = x(Date.parse(p.at));
            return (
              <g key={p.at}>
                <path d={`M${cx} 18V262`} />
                <path className={styles.head} d={`M${cx - 6} 252L${cx} 261L${cx + 6} 252`} />
              </g>
            );
          })}
        </g>
        <polyline
          className="expected"
          points={days.map((d) => `${at(d.day).toFixed(1)},${y(d.p50).toFixed(1)}`).join(" ")}
        />
        {runs.map((r) => (
          <polyline
            key={r[0]?.at ?? "none"}
            className="measured thin"
            points={r.map((p) => `${x(Date.parse(p.at)).toFixed(1)},${y(p.load).toFixed(1)}`).join(" ")}
          />
        ))}
        {points
          .filter((p) => !p.cleaned || p.after)
          .map((p) => (
            <path key={p.at} className="gauge" d={diamond(x(Date.parse(p.at)), y(p.load), 5)} />
          ))}
        <g className="halo">
          {last && (
            <text className="fig-m" x={x(Date.parse(last.at))} y={y(last.load) + 24} textAnchor="middle">
              {percent(Math.max(0, last.load))}
            </text>
          )}
        </g>
        <path d={`M${x(today)} 60V268`} stroke="var(--petrol)" strokeWidth="2" />
        <g className="tick" textAnchor="middle">
          {apart(cleanings.map((p) => ({ at: p.at, x: x(Date.parse(p.at)) }))).map((p) => (
            <text key={p.at} x={p.x} y="14">
              {shortDay(p.at)}
            </text>
          ))}
          <text x={Math.min(x(today), 500)} y="284">
            {t("cleaning.today")}
          </text>
          <text x="62" y="284">
            {shortDay(points[0].at)}
          </text>
          <text x="566" y="284">
            {shortDay(new Date(to))}
          </text>
        </g>
      </svg>
      {recent.length > 0 && recent.length < view.points.length && (
        <Button type="link" aria-pressed={whole} id="whole-load" onClick={() => setWhole(!whole)}>
          {t(whole ? "record.recentLoad" : "record.wholeLoad", { n: recentWeeks })}
        </Button>
      )}
      <table className="sr">
        <caption>{t("record.load")}</caption>
        <tbody>
          {view.points.map((p) => (
            <tr key={p.at + String(p.cleaned)}>
              <th scope="row">{day(p.at)}</th>
              <td>{percent(Math.max(0, p.load))} %</td>
              <td>{p.cleaned ? t("cleaning.cleaned") : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
