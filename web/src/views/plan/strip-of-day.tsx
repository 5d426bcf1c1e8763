import { useRef } from "react";
import { useTranslation } from "react-i18next";
import type { PlanView as Plan } from "../../api/client";
import { figure, hourMark, money } from "../../parts/format";
import { left, pieces, span, whole, width, x } from "./day-axis";
import { OnRows, rowHeight, rowsOn } from "./on-rows";
import styles from "./plan.module.css";
import type { Slot } from "./plan-view";

const floor = 210;
const onTop = 238;
const priceHeight = 36;

/** A day of the pump by the hour: the plan as blocks that can be dragged, the present
 *  programme as a stepped line, quiet and peak hours behind both; under them what else is
 *  on, and the price of power. */
export function DayStrip({ view, slots, onChange }: { view: Plan; slots: Slot[]; onChange: (slots: Slot[]) => void }) {
  const { t } = useTranslation();
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<{ slot: number; from: number; start: number } | null>(null);
  const y = (rpm: number) => floor - (rpm / view.topRpm) * 168;
  const hourAt = (clientX: number) => {
    const box = svg.current?.getBoundingClientRect();
    return box ? (((clientX - box.left) / box.width) * whole - left) * (24 / width) : 0;
  };
  const move = (i: number, start: number) => {
    const s = (((Math.round(start * 2) / 2) % 24) + 24) % 24;
    onChange(slots.map((slot, k) => (k === i ? { ...slot, start: s } : slot)));
  };
  const most = Math.max(...view.prices, 0.01);
  const n = view.needs;
  const rows = rowsOn(view, slots);
  const prices = onTop + rows.length * rowHeight + 8 + priceHeight;
  return (
    <svg
      ref={svg}
      className={`chart ${styles["day-strip"]}`}
      viewBox={`0 0 ${whole} ${prices + 30}`}
      role="img"
      aria-label={t("plan.strip")}
      onPointerMove={(e) => {
        const d = drag.current;
        if (d) move(d.slot, d.start + hourAt(e.clientX) - d.from);
      }}
      onPointerUp={() => {
        drag.current = null;
      }}
      onPointerLeave={() => {
        drag.current = null;
      }}
    >
      {span(n.quiet).map(([a, b]) => (
        <rect key={`q${a}`} x={x(a)} y="30" width={x(b) - x(a)} height={floor - 30} className={styles["quiet-hours"]} />
      ))}
      {n.peakWay !== "free" &&
        span(n.peak).map(([a, b]) => (
          <rect
            key={`p${a}`}
            x={x(a)}
            y="30"
            width={x(b) - x(a)}
            height={floor - 30}
            className={styles["peak-hours"]}
          />
        ))}
      <g className="grid">
        {[0.25, 0.5, 0.75, 1].map((s) => (
          <path key={s} d={`M${left} ${y(s * view.topRpm)}H${left + width}`} />
        ))}
      </g>
      <g className="tick" textAnchor="end">
        {[0.5, 1].map((s) => (
          <text key={s} x={left - 6} y={y(s * view.topRpm) + 5}>
            {figure(s * view.topRpm, "rpm")}
          </text>
        ))}
      </g>
      <text className="tick" x="2" y="22">
        rpm
      </text>
      {n.quiet.from !== n.quiet.to && (
        <text className="tick" x={x(span(n.quiet)[0][0]) + 4} y="26">
          {t("plan.quiet")}
        </text>
      )}
      {n.peakWay !== "free" && n.peak.from !== n.peak.to && (
        <text className="tick" x={x(n.peak.from) + 4} y="26">
          {t("plan.peak")}
        </text>
      )}
      {slots.map((s, i) =>
        pieces(s.start, s.hours).map(([a, b]) => (
          <g
            // biome-ignore lint/suspicious/noArrayIndexKey: a slot is its place; its start moves under the hand
            key={`${i}-${a > 0 ? "on" : "after"}`}
            className={styles["plan-block"]}
            data-slot={i}
            onPointerDown={(e) => {
              (e.target as Element).releasePointerCapture?.(e.pointerId);
              drag.current = { slot: i, from: hourAt(e.clientX), start: s.start };
            }}
          >
            <rect x={x(a)} y={y(s.rpm)} width={Math.max(2, x(b) - x(a))} height={floor - y(s.rpm)} />
            {b - a >= 2 && (
              <text x={(x(a) + x(b)) / 2} y={y(s.rpm) - 6} textAnchor="middle">
                {figure(s.rpm, "rpm")}
              </text>
            )}
          </g>
        )),
      )}
      {view.present.slots.map((s) =>
        pieces(s.start, s.hours).map(([a, b]) => (
          <path
            key={`${s.start}-${a}`}
            className={styles["present-line"]}
            d={`M${x(a)} ${floor}V${y(s.rpm)}H${x(b)}V${floor}`}
          />
        )),
      )}
      <path d={`M${left} ${floor}H${left + width}`} stroke="var(--ink)" />
      <g className="tick" textAnchor="middle">
        {[0, 3, 6, 9, 12, 15, 18, 21, 24].map((h) => (
          <text key={h} x={x(h)} y={floor + 20} className={h % 6 ? styles.between : undefined}>
            {hourMark(h)}
          </text>
        ))}
      </g>
      <OnRows rows={rows} top={onTop} />
      {view.prices.map((p, h) => (
        <rect
          // biome-ignore lint/suspicious/noArrayIndexKey: an hour is its place in the day
          key={h}
          x={x(h) + 1}
          y={prices - (Math.max(0, p) / most) * priceHeight}
          width={width / 24 - 2}
          height={Math.max(1, (Math.max(0, p) / most) * priceHeight)}
          className={styles["price-bar"]}
        />
      ))}
      <text className="tick" x={left} y={prices + 22}>
        {t("plan.price", { most: money(most) })}
      </text>
    </svg>
  );
}
