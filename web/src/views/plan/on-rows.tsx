import { useTranslation } from "react-i18next";
import type { PlanView as Plan } from "../../api/client";
import { left, pieces, span, width, x } from "./day-axis";
import styles from "./plan.module.css";
import type { Slot } from "./plan-view";

/** How high one row is. */
export const rowHeight = 24;

/** What is on by the hour beside the pump, and the hours of heat; rows without any are left out. */
export function rowsOn(view: Plan, slots: Slot[]) {
  const n = view.needs;
  const cell = view.windows.find((w) => w.job === "cell");
  const makes = cell && !cell.empty ? slots.filter((s) => s.rpm >= cell.low) : [];
  return [
    { what: "awake", spans: span(n.awake) },
    { what: "frost", spans: span(n.frost ?? { from: 0, to: 0 }) },
    { what: "heat", spans: span(n.heat) },
    { what: "cell", spans: makes.flatMap((s) => pieces(s.start, s.hours)) },
    { what: "clean", spans: span(n.clean) },
    { what: "spa", spans: span(n.spa) },
  ].filter((r) => r.spans.length > 0);
}

/** The rows, each a line of the day with bars where its device is on. */
export function OnRows({ rows, top }: { rows: ReturnType<typeof rowsOn>; top: number }) {
  const { t } = useTranslation();
  return rows.map((r, i) => {
    const y = top + i * rowHeight;
    return (
      <g key={r.what} className={styles["on-row"]} data-on={r.what}>
        <text className="tick" x={left - 6} y={y + 14} textAnchor="end">
          {t(`plan.on.${r.what}`)}
        </text>
        <path className={styles["on-line"]} d={`M${left} ${y + 8}H${left + width}`} />
        {r.spans.map(([a, b]) => (
          <rect key={a} x={x(a)} y={y + 3} width={x(b) - x(a)} height="10" />
        ))}
      </g>
    );
  });
}
