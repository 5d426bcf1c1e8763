import type { PadDocument, PathsView } from "../api/client";

type Reach = PathsView["reaches"][number];

/** A stretch of pipe to draw: its corners, and the reach that flows in it. */
export interface Stretch {
  reach: Reach | undefined;
  points: [number, number][];
  /** A line's own label stands over its first stretch. */
  label?: { x: number; y: number; anchor: "start" | "end"; name: string; body: string };
}

interface Turn {
  id: string;
  name: string;
  x: number;
  y: number;
}

interface Station {
  id: "pump" | "filter" | "heater" | "cell";
  x: number;
}

export interface PadLayout {
  width: number;
  height: number;
  middle: number;
  stretches: Stretch[];
  turns: Turn[];
  stations: Station[];
  waste?: Stretch;
}

const row = 64;
const edge = 8;
/** A line's own stretch, with room for its name; and what a valve takes before it. */
const lineLong = 172;
const turnLong = 70;

/** How many three-way valves stand one behind another on a side. */
function depth(doc: PadDocument, side: "suction" | "return"): number {
  const valves = (doc.valves ?? []).filter((v) => v.side === side);
  const of = (on: string | undefined): number => {
    const v = valves.find((o) => on?.startsWith(`${o.id}:`));
    return v ? 1 + of(v.on) : 0;
  };
  return Math.max(0, ...valves.map((v) => 1 + of(v.on)));
}

/** Lays a pad out with the pool on both sides: suction lines from the left, returns to the right. */
export function layOut(doc: PadDocument, reaches: Reach[]): PadLayout {
  const of = new Map(reaches.map((r) => [r.id, r]));
  const stretches: Stretch[] = [];
  const turns: Turn[] = [];
  const rows = { suction: 0, return: 0 };

  const left = edge + lineLong + turnLong * depth(doc, "suction");
  const pump = left + 50;
  const tank = pump + 82;
  const stations: Station[] = [
    { id: "pump", x: pump },
    { id: "filter", x: tank },
  ];
  let x = tank;
  if (doc.heater) {
    x += 74;
    stations.push({ id: "heater", x });
  }
  if (doc.cell) {
    x += 66;
    stations.push({ id: "cell", x });
  }
  const right = x + 46;
  const width = right + lineLong + turnLong * depth(doc, "return") + edge;
  const side = (which: "suction" | "return", trunk: number) => {
    const out = which === "suction" ? -1 : 1;
    const far = which === "suction" ? edge : width - edge;
    const lines = which === "suction" ? doc.suction : doc.returns;
    /** Hangs everything on a port at x; gives the height where its water meets. */
    const hang = (on: string, x: number): number => {
      const ends: { y: number; reach: Reach | undefined }[] = [];
      for (const l of lines ?? []) {
        if ((l.on ?? "") !== on) continue;
        const y = 46 + row * rows[which]++;
        const reach = of.get(l.id);
        const anchor = which === "suction" ? "start" : "end";
        const points: [number, number][] = [
          [far, y],
          [x, y],
        ];
        stretches.push({
          reach,
          points,
          label: { x: far, y: y - 13, anchor, name: l.name, body: bodyOf(l.kind) },
        });
        ends.push({ y, reach });
      }
      for (const v of doc.valves ?? []) {
        if (v.side !== which || (v.on ?? "") !== on) continue;
        const at = x + out * 34;
        const port = at + out * (turnLong - 34);
        const ports = (["a", "b"] as const).map((p) => ({ id: `${v.id}:${p}`, y: hang(`${v.id}:${p}`, port) }));
        const y = (ports[0].y + ports[1].y) / 2;
        let sum = 0;
        for (const p of ports) {
          const reach = of.get(p.id);
          sum += reach?.gpm ?? 0;
          stretches.push({
            reach,
            points: [
              [port, p.y],
              [at, p.y],
              [at, y],
            ],
          });
        }
        const through = of.get(ports[0].id);
        const common = through && { ...through, id: v.id, gpm: sum, opening: 1 };
        stretches.push({
          reach: common,
          points: [
            [at, y],
            [x, y],
          ],
        });
        turns.push({ id: v.id, name: v.name, x: at, y });
        ends.push({ y, reach: common });
      }
      const meet = ends.length ? ends.reduce((s, e) => s + e.y, 0) / ends.length : 46;
      for (const e of ends) {
        if (Math.abs(e.y - meet) > 0.5)
          stretches.push({
            reach: e.reach,
            points: [
              [x, e.y],
              [x, meet],
            ],
          });
      }
      return meet;
    };
    return hang("", trunk);
  };

  const from = side("suction", left);
  const to = side("return", right);
  const height = Math.max(200, 46 + row * Math.max(rows.suction, rows.return) + 8);
  const middle = Math.max(92, from);
  const trunk = of.get("suction-trunk");
  stretches.push({
    reach: trunk,
    points: [
      [left, from],
      [left, middle],
      [tank, middle],
    ],
  });
  const back = of.get("return-trunk");
  stretches.push({
    reach: back,
    points: [
      [tank, middle],
      [right, middle],
      [right, to],
    ],
  });
  const spilled = of.get("waste");
  const waste =
    doc.filter.valve !== "none"
      ? { reach: spilled, points: [[tank, middle - 34] as [number, number], [tank, 20] as [number, number]] }
      : undefined;
  return { width, height, middle, stretches, turns, stations, waste };
}

function bodyOf(kind: string): string {
  return kind.startsWith("spa") ? "spa" : kind === "feature" ? "air" : "pool";
}
