import { useTranslation } from "react-i18next";
import { api, type TrackRecord } from "../../api/client";
import { Page } from "../../frame/page";
import { DataTable } from "../../parts/data-table";
import { percent } from "../../parts/format";
import { diamond } from "../../parts/glyphs";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import styles from "./track-record.module.css";

/** How often what was shown turned out right, by the company's own settled visits. */
export function TrackRecordView() {
  const { t } = useTranslation();
  const record = api.useQuery("get", "/api/v1/track-record");
  return (
    <Page title={t("track.title")}>
      <div className="catalogue">
        {record.isError && <Trouble error={record.error} onRetry={() => record.refetch()} />}
        {record.isPending && <Loading />}
        {record.data && record.data.settled === 0 && <p className="empty">{t("track.none")}</p>}
        {record.data && record.data.settled > 0 && <Told record={record.data} />}
      </div>
    </Page>
  );
}

/** Settled visits under which shares say little. */
const enough = 30;

function Told({ record: r }: { record: TrackRecord }) {
  const { t } = useTranslation();
  return (
    <>
      <p className="lead">
        {t("track.lead", {
          count: r.settled,
          first: percent(r.first / r.settled),
          three: percent(r.three / r.settled),
        })}
      </p>
      {r.settled < enough && (
        <p className="state-line">
          <StateMark mark="open" />
          {t("track.few", { enough })}
        </p>
      )}
      <div className={styles.track}>
        <section>
          <h2>{t("track.reliability")}</h2>
          <p className="quiet">{t("track.how")}</p>
          <Reliability record={r} />
          <p>{t("track.error", { error: percent(r.calibration), brier: r.brier.toFixed(2) })}</p>
        </section>
        <section>
          <h2>{t("track.byFault")}</h2>
          <DataTable
            name="causes"
            label={t("track.cause")}
            stacks
            rows={r.faults}
            keyOf={(f) => f.id}
            attrs={(f) => ({ "data-cause": f.id })}
            columns={[
              { key: "cause", title: t("track.cause"), head: true, cell: (f) => f.name },
              { key: "times", title: t("track.times"), cell: (f) => f.times },
              {
                key: "first",
                title: t("track.first"),
                cell: (f) => (
                  <>
                    <span className="n">{percent(f.first / f.times)}</span> %
                  </>
                ),
              },
              {
                key: "three",
                title: t("track.three"),
                cell: (f) => (
                  <>
                    <span className="n">{percent(f.three / f.times)}</span> %
                  </>
                ),
              },
              {
                key: "rate",
                title: t("track.rate"),
                cell: (f) =>
                  f.shipped > 0
                    ? t("track.from", { shipped: f.shipped.toFixed(1), now: f.perHundred.toFixed(1) })
                    : "–",
              },
            ]}
          />
        </section>
      </div>
    </>
  );
}

/** What was said against what came: on the dashed line chances are honest. */
function Reliability({ record: r }: { record: TrackRecord }) {
  const { t } = useTranslation();
  const x = (p: number) => 44 + 300 * p;
  const y = (p: number) => 316 - 300 * p;
  return (
    <svg
      className={`chart ${styles["track-chart"]}`}
      viewBox="0 0 372 352"
      role="img"
      aria-label={t("track.label", { count: r.bins.length })}
    >
      <path d={`M${x(0)} ${y(1)}V${y(0)}H${x(1)}`} stroke="var(--ink)" fill="none" />
      <path className="expected" d={`M${x(0)} ${y(0)}L${x(1)} ${y(1)}`} />
      <g className="tick" textAnchor="middle">
        {[0, 0.5, 1].map((p) => (
          <text key={p} x={x(p)} y="340">
            {percent(p)} %
          </text>
        ))}
      </g>
      <g className="tick" textAnchor="end">
        {[0.5, 1].map((p) => (
          <text key={p} x="38" y={y(p) + 5}>
            {percent(p)}
          </text>
        ))}
      </g>
      {r.bins.map((b) => (
        <g key={b.said}>
          <path className="gauge" d={diamond(x(b.said), y(b.was), 4 + Math.min(6, Math.sqrt(b.n)))} />
          <title>{t("track.bin", { said: percent(b.said), was: percent(b.was), count: b.n })}</title>
        </g>
      ))}
    </svg>
  );
}
