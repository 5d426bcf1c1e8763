import { useTranslation } from "react-i18next";
import type { PoolRecordView } from "../../api/client";
import { Chart } from "../../parts/chart-later";
import { now } from "../../parts/clock";
import { figure, longDay, percent, shortDay, toShown, unitOf } from "../../parts/format";

const dayMs = 86_400_000;

/** Tank gauge against speed: the clean line, the limit, and what was read lately. */
export function CleanLineChart({ view }: { view: PoolRecordView }) {
  const { t } = useTranslation();
  const { line, gauges } = view;
  const visits = [...new Set(gauges.map((g) => g.at))].slice(-3);
  const lately = gauges.filter((g) => visits.includes(g.at));
  const psi = (v: number) => toShown(v, "psi");
  const run = (points: { rpm: number; clean: number; limit?: number }[], key: "clean" | "limit") => [
    points.map((p) => ({ x: p.rpm, y: psi(p[key] ?? 0) })),
  ];
  return (
    <Chart
      name="clean-line"
      label={t("record.lineLabel", { count: lately.length })}
      x={{ title: "rpm", format: (v) => figure(v, "rpm") }}
      y={{ title: unitOf("psi"), format: shownAs("psi"), low: Math.min(0, ...line.map((p) => psi(p.clean))) }}
      lines={[
        { key: "limit", name: t("record.limit"), look: "limit", runs: run(line, "limit") },
        { key: "clean", name: t("record.cleanLineShort"), look: "expected", runs: run(line, "clean") },
        ...view.older.map((o, i) => ({
          key: `older${i}`,
          name: t("record.older", { at: longDay(o.at) }),
          look: "older" as const,
          runs: run(o.points, "clean"),
        })),
        ...(lately.length
          ? [
              {
                key: "read",
                name: t("record.readLately"),
                look: "measured" as const,
                runs: [],
                marks: lately.map((g) => ({ x: g.rpm, y: psi(g.psi), after: g.after })),
              },
            ]
          : []),
      ]}
    />
  );
}

/** A figure that is already in the reader's unit, as that unit is told. */
const shownAs = (unit: string) => (v: number) => v.toFixed(unitOf(unit) === unit ? 0 : 1);

/** Load by date, cleanings as upright lines, and the forecast's fan. */
export function LoadChart({ view }: { view: PoolRecordView }) {
  const { t } = useTranslation();
  const today = now().getTime();
  const points = view.points.map((p) => ({
    x: Date.parse(p.at),
    y: 100 * Math.max(0, p.load),
    cleaned: p.cleaned,
    after: p.after,
  }));
  const ahead = (view.forecast.days ?? []).map((d) => ({ ...d, x: today + d.day * dayMs }));
  const runs: (typeof points)[] = [[]];
  for (const p of points) {
    if (p.cleaned) runs.push([]);
    runs[runs.length - 1].push(p);
  }
  const from = points[0]?.x ?? today;
  const to = ahead.at(-1)?.x ?? today;
  const spans = [
    { name: t("chart.weeks", { count: 12 }), days: 98 },
    { name: t("chart.year"), days: 379 },
    { name: t("chart.all"), days: 36_500 },
  ];
  return (
    <Chart
      name="load"
      label={t("record.loadLabel", {
        from: shortDay(new Date(from)),
        count: points.filter((p) => p.cleaned).length,
      })}
      x={{ title: t("record.date"), format: (v) => shortDay(new Date(v)), time: true }}
      y={{
        title: "%",
        format: (v) => percent(v / 100),
        top: Math.max(125, ...points.map((p) => p.y), ...ahead.map((d) => 100 * d.p90)),
      }}
      spans={to - from > spans[0].days * dayMs ? spans : []}
      bands={[{ name: t("chart.fan"), points: ahead.map((d) => ({ x: d.x, low: 100 * d.p10, high: 100 * d.p90 })) }]}
      stands={[
        ...points.filter((p) => p.cleaned).map((p) => ({ x: p.x, name: t("cleaning.cleaned") })),
        { x: today, name: t("cleaning.today"), now: true },
      ]}
      lines={[
        {
          key: "limit",
          name: t("record.limit"),
          look: "limit",
          runs: [
            [
              { x: from, y: 100 },
              { x: to, y: 100 },
            ],
          ],
        },
        { key: "load", name: t("chart.read"), look: "measured", runs: runs.filter((r) => r.length), marks: points },
        {
          key: "ahead",
          name: t("chart.ahead"),
          look: "expected",
          runs: [ahead.map((d) => ({ x: d.x, y: 100 * d.p50 }))],
        },
      ]}
    />
  );
}
