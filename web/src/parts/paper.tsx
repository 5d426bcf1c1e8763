import { useTranslation } from "react-i18next";
import type { PaperPage } from "../api/client";
import { Chart } from "./chart-later";
import { DataTable } from "./data-table";
import { shortDay } from "./format";
import styles from "./paper.module.css";
import { StateMark } from "./state-mark";

type Block = PaperPage["blocks"][number];

/** A paper as a page: what its PDF says, in the same order. */
export function Paper({ page, alone }: { page: PaperPage; alone?: boolean }) {
  const Title = alone ? "h1" : "h2";
  return (
    <article className={styles.paper}>
      <p className="quiet">{[page.company, page.phone].filter(Boolean).join(" · ")}</p>
      <Title className={styles["paper-title"]}>{page.title}</Title>
      <p className="lead">{page.sub}</p>
      {page.blocks.map((b, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a paper's blocks stay where they are
        <Piece key={i} block={b} alone={alone} />
      ))}
      <p className="quiet">{page.made}</p>
    </article>
  );
}

function Piece({ block: b, alone }: { block: Block; alone?: boolean }) {
  const Heading = alone ? "h2" : "h3";
  switch (b.kind) {
    case "heading":
      return <Heading className={styles["paper-heading"]}>{b.text}</Heading>;
    case "caution":
      return (
        <p className="caution">
          <StateMark mark="act" />
          <b>{b.text}</b>
        </p>
      );
    case "facts":
      return (
        <dl className={styles["paper-facts"]}>
          {b.facts?.map((f) => (
            <div key={f.name}>
              <dt>{f.name}</dt>
              <dd>{f.value}</dd>
            </div>
          ))}
        </dl>
      );
    case "table":
      return (
        <DataTable
          name="paper-table"
          label={b.head?.join(", ") ?? ""}
          stacks
          rows={b.rows?.map((cells) => ({ cells: cells ?? [] })) ?? []}
          keyOf={(_, i) => i}
          columns={
            b.head?.map((h, k) => ({ key: String(k), title: h, cell: (r: { cells: string[] }) => r.cells[k] })) ?? []
          }
        />
      );
    case "chart":
      return b.chart ? <Trend chart={b.chart} /> : null;
    case "picture":
      return (
        <figure>
          <figcaption>{b.text}</figcaption>
          <img src={`data:image/jpeg;base64,${b.jpeg}`} alt={b.text} />
        </figure>
      );
    default:
      return <p>{b.text}</p>;
  }
}

/** A trend of a paper; a run ends where something was done to the pad. */
function Trend({ chart }: { chart: NonNullable<Block["chart"]> }) {
  const { t } = useTranslation();
  const points = chart.points.map((p) => ({ x: Date.parse(p.at), y: p.value, cut: p.cut }));
  const runs: (typeof points)[] = [[]];
  for (const p of points) {
    runs[runs.length - 1].push(p);
    if (p.cut) runs.push([]);
  }
  const ends = [points[0].x, points[points.length - 1].x];
  return (
    <Chart
      name="trend"
      label={`${chart.name}, ${chart.unit}`}
      x={{ title: t("record.date"), format: (v) => shortDay(new Date(v)), time: true }}
      y={{
        title: chart.unit,
        format: (v) => String(Math.round(v * 10) / 10),
        top: Math.max(1.15 * chart.limit, ...points.map((p) => p.y)),
      }}
      lines={[
        { key: "limit", name: t("record.limit"), look: "limit", runs: [ends.map((x) => ({ x, y: chart.limit }))] },
        { key: "value", name: chart.name, look: "measured", runs: runs.filter((r) => r.length) },
      ]}
    />
  );
}
