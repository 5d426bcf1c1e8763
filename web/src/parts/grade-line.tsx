import type { TFunction } from "i18next";
import { useTranslation } from "react-i18next";
import type { Verdict } from "../api/client";
import { axisMarks, figure, toShown, toTrade, unitOf } from "./format";
import { diamond, stationPaths } from "./glyphs";
import styles from "./grade-line.module.css";
import { partLater } from "./later";
import { useWide } from "./use-wide";

const GradeTable = partLater(() => import("./grade-table"), 6);

export type Grade = NonNullable<Verdict["grade"]>;
type Reading = Verdict["readings"][number];

const inHgPerPsi = 2.036;

/** Where a station begins and ends along the line, as shares of its length. */
const bands: Record<string, [number, number]> = {
  suction: [0.06, 0.18],
  basket: [0.19, 0.235],
  pump: [0.295, 0.345],
  filter: [0.445, 0.55],
  heater: [0.64, 0.69],
  cell: [0.765, 0.81],
  returns: [0.885, 0.955],
};

interface Axis {
  /** Along the water's path, 0..1 to pixels. */
  along: (share: number) => number;
  /** Pressure above the pool's surface, psi to pixels; below zero by vacuum. */
  level: (psi: number) => number;
}

function points(grade: Grade, which: "clean" | "today"): [number, number][] {
  const out: [number, number][] = [[0, 0]];
  for (const s of grade.stations) {
    const [from, to] = bands[s.id] ?? [0, 0];
    out.push([from, which === "clean" ? s.cleanIn : s.todayIn]);
    out.push([to, which === "clean" ? s.cleanOut : s.todayOut]);
  }
  out.push([1, 0]);
  return out;
}

/** Open diamonds: what a gauge said, at its place, on the scale of the line. */
function gauges(
  grade: Grade,
  reading: Reading,
): { at: [number, number]; meter: string; read: number; clean: number; unit: string }[] {
  const out: ReturnType<typeof gauges> = [];
  for (const m of reading.meters) {
    if (m.read == null) continue;
    const filter = grade.stations.find((s) => s.id === "filter");
    const basket = grade.stations.find((s) => s.id === "basket");
    const returns = grade.stations.find((s) => s.id === "returns");
    const base = { meter: m.meter, read: m.read, clean: m.clean, unit: m.unit };
    // A gauge stands above or below the surface; the clean line tells by how much.
    if (m.meter === "tank" && filter) out.push({ ...base, at: [bands.filter[0], m.read + filter.cleanIn - m.clean] });
    if (m.meter === "vacuum" && basket)
      out.push({ ...base, at: [bands.basket[1], basket.cleanOut + (m.clean - m.read) / inHgPerPsi] });
    if (m.meter === "flow" && returns) out.push({ ...base, at: [bands.returns[0], returns.todayIn] });
  }
  return out;
}

interface GradeLineProps {
  grade: Grade;
  reading: Reading;
  suctionWords: string;
  /** Show the text twin instead of the drawing. */
  table: boolean;
}

export default function GradeLine({ grade, reading, suctionWords, table }: GradeLineProps) {
  const { t } = useTranslation();
  const wide = useWide();
  const name = (id: string) => (id === "suction" ? suctionWords : t(`station.${id}`));
  const clean = points(grade, "clean");
  const today = points(grade, "today");
  const marks = gauges(grade, reading);
  const all = [...clean, ...today, ...marks.map((m) => m.at), [0, reading.limitPsi]].map((p) => p[1]);
  const top = Math.max(10, Math.ceil((Math.max(...all) + 2) / 5) * 5);
  const deep = Math.max(4, Math.ceil((-Math.min(...all) * inHgPerPsi + 0.5) / 2) * 2);
  const say = sentence(grade, t);
  const label = t("grade.label", { rpm: figure(grade.rpm, "rpm"), say });
  if (table) return <GradeTable grade={grade} name={name} />;
  const drawing = { grade, reading, clean, today, marks, top, deep, say, label, name };
  return wide ? <WideGrade {...drawing} /> : <TallGrade {...drawing} />;
}

function sentence(grade: Grade, t: TFunction): [string, string, string, string] | null {
  const w = grade.worst;
  if (!w) return null;
  const key = w.station === "pump" ? "lift" : "loss";
  return [
    figure(w.extra, "psi"),
    t(`grade.${key}`),
    t(`station.at.${w.station}`),
    t(`grade.${key}Detail`, { today: figure(w.today, "psi"), clean: figure(w.clean, "psi") }),
  ];
}

interface Drawing {
  grade: Grade;
  reading: Reading;
  clean: [number, number][];
  today: [number, number][];
  marks: ReturnType<typeof gauges>;
  top: number;
  deep: number;
  say: [string, string, string, string] | null;
  label: string;
  name: (id: string) => string;
}

/** The stretch where the lines part most, hatched. */
function hatch(d: Drawing, xy: (p: [number, number]) => string): string {
  const i = d.grade.stations.findIndex((s) => s.id === d.grade.worst?.station);
  if (i < 0) return "";
  const from = Math.max(0, 2 * i + 1 - 1);
  const to = Math.min(d.clean.length, 2 * i + 3);
  return [...d.clean.slice(from, to), ...d.today.slice(from, to).reverse()].map(xy).join(" ");
}

function WideGrade(d: Drawing) {
  const { t } = useTranslation();
  const left = 48;
  const right = 706;
  const bottom = 246;
  const kv = 9;
  const zero = bottom - d.deep * kv;
  const kp = (zero - 14) / d.top;
  const axis: Axis = {
    along: (s) => left + s * (right - left),
    level: (p) => (p >= 0 ? zero - p * kp : zero - p * inHgPerPsi * kv),
  };
  const xy = ([s, p]: [number, number]) => `${axis.along(s).toFixed(1)},${axis.level(p).toFixed(1)}`;
  const limit =
    d.reading.limitPsi +
    (d.grade.stations.find((s) => s.id === "filter")?.cleanIn ?? 0) -
    (d.reading.meters[0]?.clean ?? 0);
  const tank = d.marks.find((m) => m.meter === "tank");
  const vacuum = d.marks.find((m) => m.meter === "vacuum");
  const flow = d.marks.find((m) => m.meter === "flow");
  const step = d.top > 30 ? 10 : 5;
  return (
    <svg className={`${styles.grade} ${styles["grade-wide"]}`} viewBox="0 0 712 310" role="img" aria-label={d.label}>
      <Hatches />
      <rect x={left} y={zero} width={right - left} height={bottom - zero} fill="var(--paper-sunk)" />
      <g className="bands">
        {d.grade.stations.map((s) => {
          const [from, to] = bands[s.id];
          return (
            <rect key={s.id} x={axis.along(from)} y="9" width={axis.along(to) - axis.along(from)} height={bottom - 9} />
          );
        })}
      </g>
      <g className="grid">
        {axisMarks(d.top - 1, "psi", step).map((p) => (
          <path key={p.at} d={`M${left} ${axis.level(p.at)}H${right}`} />
        ))}
      </g>
      <Ruler axis={axis} top={d.top} deep={d.deep} x={left - 6} vertical />
      <g className="tick" textAnchor="end">
        {[{ at: 0, label: "0" }, ...axisMarks(d.top - 1, "psi", step)].map((p) => (
          <text key={p.at} x={left - 11} y={axis.level(p.at) + 5}>
            {p.label}
          </text>
        ))}
        <text x={left - 11} y={bottom}>
          {Math.round(toShown(d.deep, "inHg"))}
        </text>
      </g>
      <text className="tick" x="6" y="12">
        {unitOf("psi")}
      </text>
      <text className="tick" x="4" y="262">
        {unitOf("inHg")}
      </text>
      <path d={`M${left} ${zero}H${right}`} stroke="var(--ink)" />
      <text className="tick it" x={right - 2} y={zero + 15} textAnchor="end">
        {t("grade.surface")}
      </text>
      <polygon points={hatch(d, xy)} fill="url(#hatch)" />
      <polyline className="expected" points={d.clean.map(xy).join(" ")} />
      <polyline className="measured" points={d.today.map(xy).join(" ")} />
      <path
        d={`M${axis.along(0.445)} ${axis.level(limit)}H${axis.along(0.55)}`}
        stroke="var(--ink)"
        strokeWidth="1.5"
      />
      {d.marks.map((m) => (
        <path key={m.meter} className="gauge" d={diamond(axis.along(m.at[0]), axis.level(m.at[1]))} />
      ))}
      <g className="halo">
        <text className="tick" x={axis.along(0.55)} y={axis.level(limit) - 5} textAnchor="end">
          {t("grade.limit", { psi: figure(d.reading.limitPsi, "psi") })}
        </text>
        {tank && (
          <>
            <text className="big" x={axis.along(0.43)} y={axis.level(tank.at[1]) + 6} textAnchor="end">
              <tspan className="fig-m">{figure(tank.read, "psi")}</tspan> {unitOf("psi")}
            </text>
            <text className="fig-e" x={axis.along(0.43)} y={axis.level(tank.at[1]) + 25} textAnchor="end">
              {t("grade.clean", { value: figure(tank.clean, "psi") })}
            </text>
          </>
        )}
        {vacuum && (
          <>
            <text className="big" x={axis.along(0.13)} y={zero - 30} textAnchor="middle">
              <tspan className="fig-m">{figure(vacuum.read, "inHg")}</tspan> {unitOf("inHg")}
            </text>
            <text className="fig-e" x={axis.along(0.13)} y={zero - 11} textAnchor="middle">
              {t("grade.clean", { value: figure(vacuum.clean, "inHg") })}
            </text>
          </>
        )}
        {flow && (
          <>
            <text className="big" x={right - 2} y={zero - 78} textAnchor="end">
              <tspan className="fig-m">{figure(flow.read, "gpm")}</tspan> {unitOf("gpm")}
            </text>
            <text className="fig-e" x={right - 2} y={zero - 59} textAnchor="end">
              {t("grade.clean", { value: figure(flow.clean, "gpm") })}
            </text>
          </>
        )}
        {d.say && (
          <>
            <text className="say" x={axis.along(0.6)} y="30">
              <tspan className="fig-m">{d.say[0]}</tspan> {unitOf("psi")} {d.say[1]}
              <tspan x={axis.along(0.6)} dy="23">
                {d.say[2]}
              </tspan>
            </text>
            <text className="note" x={axis.along(0.6)} y="76">
              {d.say[3]}
            </text>
          </>
        )}
      </g>
      <path d={`M${left} 286H${right}`} stroke="var(--line-strong)" />
      <g className="glyphs">
        {d.grade.stations.map((s) => {
          const [from, to] = bands[s.id];
          const x = axis.along((from + to) / 2) - 21;
          return (
            <svg
              aria-hidden="true"
              key={s.id}
              x={x}
              y="260"
              width="42"
              height="38"
              viewBox="0 0 44 40"
              className={s.id === d.grade.worst?.station ? "hot" : ""}
            >
              <rect width="44" height="40" fill="var(--paper)" stroke="none" />
              <path d={stationPaths[s.id]} />
            </svg>
          );
        })}
      </g>
      <g className="stname" textAnchor="middle">
        {d.grade.stations.map((s) => {
          const [from, to] = bands[s.id];
          return (
            <text
              key={s.id}
              x={Math.max(axis.along((from + to) / 2), s.id === "suction" ? 84 : 0)}
              y="306"
              className={s.id === d.grade.worst?.station ? "hot" : ""}
            >
              {s.id === "suction" ? t("station.suction") : d.name(s.id)}
            </text>
          );
        })}
      </g>
    </svg>
  );
}

function TallGrade(d: Drawing) {
  const { t } = useTranslation();
  const x0 = 132;
  const x1 = 330;
  const kv = 6.4;
  const zero = x0 + d.deep * kv;
  const kp = (x1 - 8 - zero) / d.top;
  const axis: Axis = {
    along: (s) => 30 + s * 414,
    level: (p) => (p >= 0 ? zero + p * kp : zero + p * inHgPerPsi * kv),
  };
  const xy = ([s, p]: [number, number]) => `${axis.level(p).toFixed(1)},${axis.along(s).toFixed(1)}`;
  // What is said stands on the side of today's line that has the room.
  const line = axis.level(d.today.findLast(([at]) => at <= 0.66)?.[1] ?? 0);
  const edge = line > 220 ? line - 10 : 352;
  const step = d.top > 20 ? 10 : 5;
  return (
    <svg className={`${styles.grade}`} viewBox="0 0 358 452" role="img" aria-label={d.label}>
      <Hatches />
      <rect x={x0} y="26" width={zero - x0} height="422" fill="var(--paper-sunk)" />
      <g className="grid">
        {axisMarks(d.top, "psi", step).map((p) => (
          <path key={p.at} d={`M${axis.level(p.at)} 26V448`} />
        ))}
      </g>
      <Ruler axis={axis} top={d.top} deep={d.deep} x={20} vertical={false} />
      <g className="tick" textAnchor="middle">
        {[{ at: 0, label: "0" }, ...axisMarks(d.top, "psi", step)].map((p) => (
          <text key={p.at} x={axis.level(p.at)} y="14">
            {p.label}
          </text>
        ))}
        <text x={x0 - 4} y="14" textAnchor="end">
          {unitOf("inHg")} {Math.round(toShown(d.deep, "inHg"))}
        </text>
        <text x="345" y="14">
          {unitOf("psi")}
        </text>
      </g>
      <path d={`M${zero} 26V448`} stroke="var(--ink)" />
      <polygon points={hatch(d, xy)} fill="url(#hatch)" />
      <polyline className="expected" points={d.clean.map(xy).join(" ")} />
      <polyline className="measured" points={d.today.map(xy).join(" ")} />
      {d.marks.map((m) => (
        <path key={m.meter} className="gauge" d={diamond(axis.level(m.at[1]), axis.along(m.at[0]), 8)} />
      ))}
      <g className="halo">
        {d.marks.map((m) => {
          const beside = axis.level(Math.max(m.at[1], 0)) + 14;
          const [x, anchor] = beside > 262 ? [356, "end" as const] : [beside, "start" as const];
          const y = axis.along(m.at[0]) + (m.meter === "tank" ? -26 : 4);
          return (
            <g key={m.meter}>
              <text className="big" x={x} y={y} textAnchor={anchor}>
                <tspan className="fig-m">{figure(m.read, m.unit)}</tspan> {unitOf(m.unit)}
              </text>
              <text className="fig-e" x={x} y={y + 18} textAnchor={anchor}>
                {t("grade.clean", { value: figure(m.clean, m.unit) })}
              </text>
            </g>
          );
        })}
        {d.say && (
          <text className="say" x={edge} y={axis.along(0.62)} textAnchor="end">
            <tspan className="fig-m">{d.say[0]}</tspan> {unitOf("psi")}
            <tspan x={edge} dy="21">
              {d.say[1]}
            </tspan>
            <tspan x={edge} dy="21">
              {d.say[2]}
            </tspan>
          </text>
        )}
      </g>
      <g className="glyphs">
        {d.grade.stations.map((s) => {
          const [from, to] = bands[s.id];
          return (
            <svg
              aria-hidden="true"
              key={s.id}
              x="0"
              y={axis.along((from + to) / 2) - 18}
              width="40"
              height="36"
              viewBox="0 0 44 40"
            >
              <path d={stationPaths[s.id]} />
            </svg>
          );
        })}
      </g>
      <g className="stname">
        {d.grade.stations.map((s) => {
          const [from, to] = bands[s.id];
          return (
            <text
              key={s.id}
              x="46"
              y={axis.along((from + to) / 2) + 6}
              className={s.id === d.grade.worst?.station ? "hot" : ""}
            >
              {s.id === "suction" ? t("station.suction") : d.name(s.id)}
            </text>
          );
        })}
      </g>
    </svg>
  );
}

const ticks = (from: number, to: number, step: number) =>
  Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, i) => from + i * step);

/** The graduated margin: psi above the surface, inHg below it. */
function Ruler({
  axis,
  top,
  deep,
  x,
  vertical,
}: {
  axis: Axis;
  top: number;
  deep: number;
  x: number;
  vertical: boolean;
}) {
  const up = unitOf("psi") === "psi" ? 1 : toTrade(0.1, "psi");
  const down = unitOf("inHg") === "inHg" ? 1 : toTrade(5, "inHg");
  const cells = [
    ...ticks(0, top - up, up).map((p) => [p, p + up]),
    ...ticks(0, deep - down, down).map((v) => [-v / inHgPerPsi, -(v + down) / inHgPerPsi]),
  ];
  return (
    <g stroke="var(--ink)" strokeWidth=".8">
      {cells.map(([a, b], i) => {
        const from = Math.min(axis.level(a), axis.level(b));
        const size = Math.abs(axis.level(a) - axis.level(b));
        const fill = i % 2 ? "var(--paper)" : "var(--ink)";
        return vertical ? (
          <rect key={a} x={x} y={from} width="6" height={size} fill={fill} />
        ) : (
          <rect key={a} x={from} y={x} width={size} height="6" fill={fill} />
        );
      })}
    </g>
  );
}

function Hatches() {
  return (
    <defs>
      <pattern id="hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path d="M0 0v6" stroke="var(--measured)" strokeWidth="1.3" />
      </pattern>
    </defs>
  );
}
