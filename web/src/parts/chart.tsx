import { Button, Segmented } from "antd";
import { useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import {
  Area,
  CartesianGrid,
  ComposedChart,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  type TooltipContentProps,
  XAxis,
  YAxis,
} from "recharts";
import styles from "./chart.module.css";
import { saveCsv, saveFile } from "./csv";
import { DataTable } from "./data-table";
import { Fold } from "./fold";
import { diamond } from "./glyphs";
import { pngOf } from "./svg-png";

/** How a line is drawn: as measured, as expected, as a limit, as it was before. */
type Look = "measured" | "expected" | "limit" | "older";

interface ChartLine {
  key: string;
  name: string;
  look: Look;
  /** Runs of points: a line ends where its run does. */
  runs: { x: number; y: number }[][];
  /** Points that are marked, of those above or beside them. */
  marks?: { x: number; y: number; after?: boolean }[];
}

interface ChartBand {
  name: string;
  points: { x: number; low: number; high: number }[];
}

export interface ChartProps {
  /** The name of its files. */
  name: string;
  label: string;
  x: { title: string; format: (v: number) => string; ticks?: number[]; time?: boolean };
  y: { title: string; format: (v: number) => string; top?: number; low?: number };
  lines: ChartLine[];
  bands?: ChartBand[];
  /** Upright lines: cleanings, today. */
  stands?: { x: number; name: string; now?: boolean }[];
  /** Lengths of time to look at, newest part first; the first is shown until another is chosen. */
  spans?: { name: string; days: number }[];
}

const looks: Record<Look, { stroke: string; strokeWidth: number; strokeDasharray?: string }> = {
  measured: { stroke: "var(--measured)", strokeWidth: 2.5 },
  expected: { stroke: "var(--ink)", strokeWidth: 1.75, strokeDasharray: "7 5" },
  limit: { stroke: "var(--ink)", strokeWidth: 1.5 },
  older: { stroke: "var(--ink-2)", strokeWidth: 1.2, strokeDasharray: "2 4" },
};

const dayMs = 86_400_000;
const tick = { fontSize: 14, fill: "var(--ink-2)" };

/** A chart whose every value is told under the finger, in a table and in a file. */
export default function Chart({ name, label, x, y, lines, bands = [], stands = [], spans = [] }: ChartProps) {
  const { t } = useTranslation();
  const box = useRef<HTMLDivElement>(null);
  const [span, setSpan] = useState(0);
  const all = [
    ...lines.flatMap((l) => [...l.runs.flat(), ...(l.marks ?? [])].map((p) => p.x)),
    ...bands.flatMap((b) => b.points.map((p) => p.x)),
  ];
  const last = Math.max(...all);
  const first = spans[span] ? Math.max(Math.min(...all), last - spans[span].days * dayMs) : Math.min(...all);
  const within = (p: { x: number }) => p.x >= first;
  const shown = lines.map((l) => ({
    ...l,
    runs: l.runs.map((r) => r.filter(within)).filter((r) => r.length > 0),
    marks: l.marks?.filter(within),
  }));
  const rows = merged(shown, bands);
  const ticks = ticksOf(y.low ?? 0, y.top ?? Math.max(...values(lines, bands)));
  const cells = (at: number) => lines.map((l) => told(l, at));
  const table = [...new Set(lines.flatMap((l) => [...l.runs.flat(), ...(l.marks ?? [])].map((p) => p.x)))]
    .sort((a, b) => a - b)
    .map((at) => ({ at, cells: cells(at) }));
  return (
    <figure className={styles.plot} id={`chart-${name}`}>
      <figcaption className={styles.key}>
        {lines.map((l) => (
          <span key={l.key}>
            <Swatch look={l.look} marks={Boolean(l.marks)} /> {l.name}
          </span>
        ))}
        {bands.map((b) => (
          <span key={b.name}>
            <i className={styles.band} /> {b.name}
          </span>
        ))}
        {spans.length > 1 && (
          <Segmented
            className="no-print"
            id={`${name}-span`}
            aria-label={t("chart.span")}
            value={span}
            options={spans.map((s, i) => ({ value: i, label: s.name }))}
            onChange={setSpan}
          />
        )}
      </figcaption>
      <div ref={box} className={styles.box} role="img" aria-label={label}>
        <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 400, height: 260 }}>
          <ComposedChart data={rows} margin={{ top: 8, right: 16, bottom: 4, left: 0 }} accessibilityLayer={false}>
            <CartesianGrid vertical={false} stroke="var(--line)" strokeDasharray="1 4" />
            <XAxis
              dataKey="x"
              type="number"
              domain={[first, last]}
              ticks={x.ticks}
              tick={tick}
              tickFormatter={x.format}
              stroke="var(--ink)"
              minTickGap={28}
              allowDataOverflow
            />
            <YAxis
              type="number"
              domain={[y.low ?? 0, Math.max(y.top ?? 0, ticks[ticks.length - 1])]}
              ticks={ticks}
              tick={tick}
              tickFormatter={y.format}
              stroke="var(--ink)"
              width={52}
              allowDecimals={false}
            />
            {bands.map((b, i) => (
              <Area
                key={b.name}
                dataKey={`band${i}`}
                type="linear"
                stroke="none"
                fill="var(--fan-core)"
                fillOpacity={0.55}
                connectNulls
                isAnimationActive={false}
                activeDot={false}
              />
            ))}
            {stands.filter(within).map((s) => (
              <ReferenceLine
                key={`${s.x}${s.name}`}
                x={s.x}
                stroke={s.now ? "var(--petrol)" : "var(--ink)"}
                strokeWidth={s.now ? 2 : 1}
                strokeDasharray={s.now ? undefined : "1 3"}
              />
            ))}
            {shown.map((l) =>
              l.runs.map((r, i) => (
                <Line
                  key={`${l.key}${r[0].x}`}
                  dataKey={`${l.key}_${i}`}
                  type="linear"
                  {...looks[l.look]}
                  dot={false}
                  activeDot={false}
                  connectNulls
                  isAnimationActive={false}
                />
              )),
            )}
            {shown.map(
              (l) =>
                l.marks && (
                  <Line
                    key={`${l.key}-marks`}
                    dataKey={`${l.key}_marks`}
                    stroke="none"
                    dot={<Mark after={new Set(l.marks.filter((m) => m.after).map((m) => m.x))} />}
                    activeDot={false}
                    isAnimationActive={false}
                  />
                ),
            )}
            <Tooltip
              isAnimationActive={false}
              cursor={{ stroke: "var(--petrol)", strokeWidth: 1 }}
              content={(at) => <Told at={at} x={x.format} y={y.format} unit={y.title} lines={lines} stands={stands} />}
            />
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <p className={styles.axes}>
        <span>{y.title}</span>
        <span>{x.title}</span>
      </p>
      <div className="no-print">
        <Fold head={t("chart.table")}>
          <DataTable
            label={label}
            rows={table}
            keyOf={(r) => r.at}
            columns={[
              { key: "x", title: x.title, head: true, cell: (r) => x.format(r.at) },
              ...lines.map((l, i) => ({
                key: l.key,
                title: l.name,
                end: true,
                cell: (r: (typeof table)[number]) => r.cells[i].map(y.format).join(" · "),
              })),
            ]}
          />
          <Button
            size="small"
            id={`${name}-csv`}
            onClick={() =>
              saveCsv(name, [
                [x.title, ...lines.map((l) => `${l.name}, ${y.title}`)],
                ...table.map((r) => [
                  x.time ? new Date(r.at).toISOString() : x.format(r.at),
                  ...r.cells.map((c) => c.map((v) => Math.round(v * 1000) / 1000).join(" ")),
                ]),
              ])
            }
          >
            {t("list.file")}
          </Button>{" "}
          <Button
            size="small"
            id={`${name}-png`}
            onClick={async () => {
              const svg = box.current?.querySelector("svg");
              if (svg) saveFile(`${name}.png`, await pngOf(svg), "image/png");
            }}
          >
            {t("chart.png")}
          </Button>
        </Fold>
      </div>
    </figure>
  );
}

/** What a line says at a place: of a run and its marks once, where they agree. */
const told = (l: ChartLine, x: number): number[] => [
  ...new Set([...l.runs.flat(), ...(l.marks ?? [])].filter((p) => p.x === x).map((p) => p.y)),
];

const values = (lines: ChartLine[], bands: ChartBand[]): number[] => [
  ...lines.flatMap((l) => [...l.runs.flat(), ...(l.marks ?? [])].map((p) => p.y)),
  ...bands.flatMap((b) => b.points.map((p) => p.high)),
  1,
];

/** Three to six round figures from the lowest to past the highest, nought among them. */
function ticksOf(low: number, high: number): number[] {
  const rough = (high - low) / 4;
  const ten = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 2.5, 5, 10].map((m) => m * ten).find((s) => s >= rough) ?? rough;
  const out: number[] = [];
  for (let v = Math.ceil(low / step) * step; v < high + step; v += step) out.push(Math.round(v * 1e6) / 1e6);
  return out;
}

/** One row for each place along x, with what stands there of every run and band. */
function merged(lines: ChartLine[], bands: ChartBand[]): Record<string, unknown>[] {
  const at = new Map<number, Record<string, unknown>>();
  const more: Record<string, unknown>[] = [];
  const row = (x: number) => {
    const r = at.get(x) ?? { x };
    at.set(x, r);
    return r;
  };
  for (const l of lines) {
    for (const [i, run] of l.runs.entries()) for (const p of run) row(p.x)[`${l.key}_${i}`] = p.y;
    const key = `${l.key}_marks`;
    for (const m of l.marks ?? []) {
      // Two readings at one place are two marks.
      if (key in row(m.x)) more.push({ x: m.x, [key]: m.y });
      else row(m.x)[key] = m.y;
    }
  }
  for (const [i, b] of bands.entries()) for (const p of b.points) row(p.x)[`band${i}`] = [p.low, p.high];
  return [...at.values(), ...more].sort((a, b) => (a.x as number) - (b.x as number));
}

/** What is read: a diamond; after a cleaning, a dot. */
function Mark({ cx, cy, payload, after }: { cx?: number; cy?: number; payload?: { x: number }; after: Set<number> }) {
  if (cx == null || cy == null || Number.isNaN(cy)) return null;
  if (payload && after.has(payload.x)) return <circle cx={cx} cy={cy} r={4.5} fill="var(--measured)" />;
  return <path className="gauge" d={diamond(cx, cy, 5)} />;
}

function Swatch({ look, marks }: { look: Look; marks: boolean }) {
  return (
    <svg width="28" height="12" aria-hidden="true">
      <path d="M0 6h28" fill="none" {...looks[look]} />
      {marks && <path className="gauge" d={diamond(14, 6, 4)} />}
    </svg>
  );
}

/** What stands under the finger. */
function Told({
  at,
  x,
  y,
  unit,
  lines,
  stands,
}: {
  at: TooltipContentProps;
  x: (v: number) => string;
  y: (v: number) => string;
  unit: string;
  lines: ChartLine[];
  stands: NonNullable<ChartProps["stands"]>;
}) {
  const here = at.payload?.[0]?.payload as { x: number } | undefined;
  if (!at.active || !here) return null;
  const values = lines
    .map((l) => ({
      name: l.name,
      look: l.look,
      values: told(l, here.x),
    }))
    .filter((v) => v.values.length > 0);
  return (
    <div className={styles.told}>
      <b>{x(here.x)}</b>
      {values.map((v) => (
        <span key={v.name}>
          {v.name} <span className={v.look === "measured" ? "fig" : "n"}>{v.values.map(y).join(" · ")}</span> {unit}
        </span>
      ))}
      {stands
        .filter((s) => s.x === here.x)
        .map((s) => (
          <span key={s.name}>{s.name}</span>
        ))}
    </div>
  );
}
