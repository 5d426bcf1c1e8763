import type { PaperPage } from "../api/client";
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

function Trend({ chart }: { chart: NonNullable<Block["chart"]> }) {
  const from = Date.parse(chart.points[0].at);
  const to = Date.parse(chart.points[chart.points.length - 1].at);
  const top = Math.max(chart.limit * 1.15, ...chart.points.map((p) => p.value));
  const x = (at: string) => 44 + ((Date.parse(at) - from) / Math.max(1, to - from)) * 640;
  const y = (v: number) => 170 - (v / top) * 156;
  const runs: (typeof chart.points)[] = [[]];
  for (const p of chart.points) {
    runs[runs.length - 1].push(p);
    if (p.cut) runs.push([]);
  }
  return (
    <figure>
      <svg className="chart" viewBox="0 0 700 200" role="img" aria-label={`${chart.name}, ${chart.unit}`}>
        <path d="M44 170H690M44 170V10" stroke="var(--ink)" fill="none" />
        <path d={`M44 ${y(chart.limit)}H690`} stroke="var(--ink)" strokeWidth="1.5" />
        <g className="tick" textAnchor="end">
          <text x="38" y="175">
            0
          </text>
          <text x="38" y={y(chart.limit) + 5}>
            {chart.limit}
          </text>
        </g>
        {runs
          .filter((r) => r.length)
          .map((r) => (
            <polyline
              key={r[0].at + String(r[0].value)}
              className="measured thin"
              points={r.map((p) => `${x(p.at).toFixed(1)},${y(p.value).toFixed(1)}`).join(" ")}
            />
          ))}
        <g className="tick">
          <text x="44" y="192">
            {shortDay(chart.points[0].at)}
          </text>
          <text x="690" y="192" textAnchor="end">
            {shortDay(chart.points[chart.points.length - 1].at)}
          </text>
        </g>
      </svg>
      <figcaption className="quiet">
        {chart.name}, {chart.unit}
      </figcaption>
      <table className="sr">
        <caption>{chart.name}</caption>
        <tbody>
          {chart.points.map((p) => (
            <tr key={p.at + String(p.value)}>
              <th scope="row">{shortDay(p.at)}</th>
              <td>{p.value}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  );
}
