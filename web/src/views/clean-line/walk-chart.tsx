import { useTranslation } from "react-i18next";
import type { WalkFit } from "../../api/client";
import { Chart } from "../../parts/chart-later";
import { figure } from "../../parts/format";

/** One meter against speed: the fitted line with its spread, and the points that were read. */
export function WalkChart({ fit, meter }: { fit: WalkFit; meter: string }) {
  const { t } = useTranslation();
  const line = fit.lines.find((l) => l.meter === meter);
  const points = fit.points.filter((p) => p.meter === meter);
  if (!line?.points.length) return null;
  return (
    <Chart
      name={`walk-${meter}`}
      label={t("walk.chart", { meter: t(`meter.${meter}`), count: points.length })}
      x={{ title: "rpm", format: (v) => figure(v, "rpm") }}
      y={{ title: line.unit, format: (v) => figure(v, "gpm"), low: Math.min(0, ...line.points.map((p) => p.value)) }}
      bands={[
        {
          name: t("walk.spread"),
          points: line.points.map((p) => ({ x: p.rpm, low: p.value - 2 * p.sd, high: p.value + 2 * p.sd })),
        },
      ]}
      lines={[
        {
          key: "fit",
          name: t("walk.fitted"),
          look: "expected",
          runs: [line.points.map((p) => ({ x: p.rpm, y: p.value }))],
        },
        ...(points.length
          ? [
              {
                key: "read",
                name: t("chart.read"),
                look: "measured" as const,
                runs: [],
                marks: points.map((p) => ({ x: p.rpm, y: p.read })),
              },
            ]
          : []),
      ]}
    />
  );
}
