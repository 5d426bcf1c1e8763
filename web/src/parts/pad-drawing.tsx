import { useTranslation } from "react-i18next";
import type { PadDocument, PathsView } from "../api/client";
import { DataTable } from "./data-table";
import { figure, measured, percent, unitOf } from "./format";
import { stationPaths } from "./glyphs";
import styles from "./pad-drawing.module.css";
import { layOut, type Stretch } from "./pad-layout";

type Reach = PathsView["reaches"][number];

/** Flow under which water is drawn standing, gpm. */
const still = 0.05;

const widthOf = (gpm: number, most: number) =>
  Math.abs(gpm) < still ? 1.5 : 2.5 + 10 * Math.sqrt(Math.abs(gpm) / Math.max(most, 1));

interface Props {
  doc: PadDocument;
  paths: PathsView | undefined;
  /** What was expected to be said of it to a screen reader. */
  label: string;
}

/** The pad as it is plumbed: pipes as wide as their flow, arrows the way the water goes. */
export function PadDrawing({ doc, paths, label }: Props) {
  const { t } = useTranslation();
  const lay = layOut(doc, paths?.reaches ?? []);
  const most = Math.max(1, ...(paths?.reaches ?? []).map((r) => Math.abs(r.gpm)));
  const filter = paths?.reaches.find((r) => r.id === "filter");
  const place = (id: string) => lay.stations.find((s) => s.id === id)?.x ?? 0;
  return (
    <svg
      className={styles["pad-drawing"]}
      style={{ maxWidth: lay.width * 1.05 }}
      viewBox={`0 0 ${lay.width} ${lay.height}`}
      role="img"
      aria-label={label}
    >
      {[...lay.stretches, ...(lay.waste ? [lay.waste] : [])].map((s, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a stretch is its place in the layout
        <Pipe key={i} stretch={s} most={most} />
      ))}
      {lay.waste && (
        <text className="tick" x={place("filter") + 10} y={28}>
          {t("drawing.waste")}
          {lay.waste.reach && Math.abs(lay.waste.reach.gpm) >= still ? ` ${measured(lay.waste.reach.gpm, "gpm")}` : ""}
        </text>
      )}
      {lay.turns.map((v) => (
        <g key={v.id}>
          <circle cx={v.x} cy={v.y} r="10" fill="var(--paper)" stroke="var(--ink)" strokeWidth="2.5" />
          <circle cx={v.x} cy={v.y} r="3" fill="var(--ink)" />
        </g>
      ))}
      {lay.stations.map((s) => (
        <g key={s.id} transform={`translate(${s.x - 29} ${lay.middle - 34.3}) scale(1.32)`}>
          <rect x="4" y="2" width="36" height="37" fill="var(--paper)" />
          <path d={stationPaths[s.id]} fill="none" stroke="var(--ink)" strokeWidth="1.6" />
        </g>
      ))}
      <g className="tick" textAnchor="middle">
        {lay.stations.map((s) => (
          <text key={s.id} x={s.x} y={lay.middle + 38}>
            {t(`station.${s.id}`)}
          </text>
        ))}
        {paths && filter && doc.filter.valve !== "none" && (
          <text x={place("filter")} y={lay.middle + 60}>
            {t("drawing.setTo", { setting: t(`setting.${paths.setting}`) })}
            {filter.gpm < -still ? ` · ${t("drawing.upwards")}` : ""}
          </text>
        )}
        {paths && (
          <text className="note" x={place("pump")} y={lay.middle - 44}>
            {paths.rpm > 0 ? `${figure(paths.rpm, "rpm")} rpm` : t("drawing.off")}
          </text>
        )}
      </g>
    </svg>
  );
}

function Pipe({ stretch, most }: { stretch: Stretch; most: number }) {
  const { t } = useTranslation();
  const r = stretch.reach;
  const flows = r !== undefined && Math.abs(r.gpm) >= still;
  const d = stretch.points.map((p, i) => `${i ? "L" : "M"}${p[0]} ${p[1]}`).join("");
  const { label } = stretch;
  return (
    <g>
      <path
        d={d}
        fill="none"
        stroke={flows ? "var(--petrol)" : "var(--line-strong)"}
        strokeWidth={widthOf(r?.gpm ?? 0, most)}
        strokeLinejoin="round"
      />
      {flows && <Arrow points={stretch.points} reach={r} />}
      {r && r.opening < 0.02 && <ShutBar points={stretch.points} />}
      {label && (
        <>
          <text className="note" x={label.x} y={label.y} textAnchor={label.anchor}>
            {label.name}
          </text>
          <text className="tick" x={label.x} y={label.y + 36} textAnchor={label.anchor}>
            {flows ? (
              <tspan className={styles["flow-figure"]}>{measured(Math.abs(r.gpm), "gpm")}</tspan>
            ) : (
              t(r && r.opening < 0.02 ? "drawing.shut" : "drawing.still")
            )}
            {r && r.opening >= 0.02 && r.opening < 0.99
              ? ` · ${t("drawing.open", { percent: percent(r.opening) })}`
              : ""}
            {label.body === "spa" ? ` · ${t("drawing.spa")}` : ""}
          </text>
        </>
      )}
    </g>
  );
}

/** An arrowhead in the middle of the longest piece, the way the water goes. */
function Arrow({ points, reach }: { points: [number, number][]; reach: Reach }) {
  let best = 0;
  let at = 1;
  for (let i = 1; i < points.length; i++) {
    const long = Math.hypot(points[i][0] - points[i - 1][0], points[i][1] - points[i - 1][1]);
    if (long > best) {
      best = long;
      at = i;
    }
  }
  if (best < 34) return null;
  const [a, b] = [points[at - 1], points[at]];
  const x = (a[0] + b[0]) / 2;
  const y = (a[1] + b[1]) / 2;
  // Returns are laid out from the pool inwards; their water goes the other way.
  const outwards = reach.side === "return" && a[0] > b[0] ? -1 : 1;
  const along = (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI;
  const turn = along + (reach.gpm * outwards < 0 ? 180 : 0);
  return (
    <path
      d="M-7 -9L9 0L-7 9Z"
      fill="var(--petrol)"
      stroke="var(--paper)"
      strokeWidth="2"
      transform={`translate(${x} ${y}) rotate(${turn})`}
    />
  );
}

/** A bar across a stretch that is shut. */
function ShutBar({ points }: { points: [number, number][] }) {
  const [a, b] = points.length > 2 ? [points[1], points[2]] : [points[points.length - 2], points[points.length - 1]];
  const x = points.length > 2 ? (a[0] + b[0]) / 2 : b[0] - Math.sign(b[0] - a[0]) * 20;
  const y = points.length > 2 ? (a[1] + b[1]) / 2 : b[1];
  const upright = Math.abs(b[0] - a[0]) > Math.abs(b[1] - a[1]);
  return (
    <path d={upright ? `M${x} ${y - 9}V${y + 9}` : `M${x - 9} ${y}H${x + 9}`} stroke="var(--ink)" strokeWidth="5" />
  );
}

/** The drawing as words: for screen readers, and for screens too small to draw on. */
export function PadTable({ paths }: { paths: PathsView }) {
  const { t } = useTranslation();
  const most = Math.max(1, ...paths.reaches.map((r) => Math.abs(r.gpm)));
  const shown = paths.reaches.filter((r) => r.kind !== "passage");
  return (
    <DataTable
      name="pad-table"
      label={t("drawing.caption")}
      rows={shown}
      keyOf={(r) => r.id}
      attrs={(r) => ({ "data-reach": r.id, className: Math.abs(r.gpm) < still ? styles.still : "" })}
      columns={[
        {
          key: "place",
          title: t("grade.place"),
          cell: (r) => (
            <>
              {reachName(r, t)}
              <i className={styles.width} style={{ width: `${(100 * Math.abs(r.gpm)) / most}%` }} />
            </>
          ),
        },
        {
          key: "flow",
          title: t("drawing.flow"),
          cell: (r) => (
            <>
              <span className="n">{figure(r.gpm, "gpm")}</span> {unitOf("gpm")}
            </>
          ),
        },
        {
          key: "speed",
          title: t("drawing.speed"),
          cell: (r) => (r.ftPerS > 0.05 ? measured(r.ftPerS, "ft/s") : ""),
        },
        {
          key: "valve",
          title: t("drawing.valve"),
          cell: (r) =>
            r.opening < 0.02
              ? t("drawing.shut")
              : r.opening < 0.99
                ? t("drawing.open", { percent: percent(r.opening) })
                : "",
        },
      ]}
    />
  );
}

function reachName(r: Reach, t: (key: string, o?: Record<string, unknown>) => string): string {
  if (r.kind === "valve") return t("drawing.port", { name: r.name, port: r.id.slice(-1).toUpperCase() });
  const fixed = [
    "suction-trunk",
    "return-trunk",
    "basket",
    "discharge",
    "filter",
    "heater",
    "cell",
    "check-valve",
    "heater-bypass",
    "waste",
    "pump",
  ];
  return fixed.includes(r.id) ? t(`drawing.place.${r.id}`) : r.name;
}
