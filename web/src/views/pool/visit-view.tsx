import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { api, type VisitRecord } from "../../api/client";
import { Page } from "../../frame/page";
import { DataTable } from "../../parts/data-table";
import { chance, clock, day, figure, measured } from "../../parts/format";
import { GoButton } from "../../parts/go-button";
import { AddPhoto, Photos } from "../../parts/photos";
import { Loading, Trouble } from "../../parts/quiet-states";
import { RunLine, useWork } from "../../parts/runs-and-work";
import { StateMark } from "../../parts/state-mark";
import { visitLine } from "../../parts/visit-line";
import styles from "./pool.module.css";

/** A reading in its unit, or that there is none. */
const or = (value: number | null | undefined, unit: string) => (value == null ? "–" : measured(value, unit));

/** One visit of the record: what was read, seen, shown and done. */
export function VisitView() {
  const { id = "" } = useParams();
  const visit = api.useQuery("get", "/api/v1/visits/{id}", { params: { path: { id } } });
  return (
    <Page>
      {visit.data ? (
        <Visit v={visit.data} />
      ) : visit.isError ? (
        <Trouble error={visit.error} onRetry={() => visit.refetch()} />
      ) : (
        <Loading />
      )}
    </Page>
  );
}

function Visit({ v }: { v: VisitRecord }) {
  const { t } = useTranslation();
  const line = visitLine(v, t);
  return (
    <article className={styles.visit}>
      <header className="top">
        <h1>{v.street}</h1>
        <GoButton type="link" to={`/pools/${v.poolId}/papers/visit?of=${v.id}`}>
          {t("visit.paper")}
        </GoButton>
        <GoButton to={`/pools/${v.poolId}`}>{t("bench.record")}</GoButton>
      </header>
      <p className="lead">
        {day(v.arrivedAt)}, {clock(v.arrivedAt)}–{clock(v.closedAt)} · {v.technician}
      </p>
      {v.corrects && (
        <p>
          {t("visit.corrects")} <Link to={`/visits/${v.corrects}`}>{t("visit.theFirst")}</Link>
        </p>
      )}
      <p className="state-line">
        <StateMark mark={line.mark} />
        <b>{line.what}</b> {v.confirmedHow}
      </p>
      {v.leftOpen && (
        <p className="state-line" id="visit-left">
          <StateMark mark="open" />
          <b>{t("visit.left")}</b> {v.leftOpen}
        </p>
      )}
      {v.rejudged && <p className="quiet">{t("visit.rejudged", { on: day(v.rejudged) })}</p>}
      {v.note && <p>{v.note}</p>}
      <h2>{t("readings.title")}</h2>
      {v.readings.length === 0 && <p className="empty">{t("visit.noReadings")}</p>}
      {v.readings.length > 0 && (
        <DataTable
          name="visit-readings"
          label={t("readings.title")}
          stacks
          rows={v.readings}
          keyOf={(_, i) => i}
          columns={[
            { key: "when", title: t("visit.when"), head: true, cell: (r) => t(`visit.${r.phase}`) },
            { key: "speed", title: t("meter.speed"), cell: (r) => `${figure(r.rpm, "rpm")} rpm` },
            { key: "tank", title: t("meter.tank"), cell: (r) => or(r.tankPsi, "psi") },
            { key: "vacuum", title: t("meter.vacuum"), cell: (r) => or(r.vacuumInHg, "inHg") },
            { key: "flow", title: t("meter.flow"), cell: (r) => or(r.flowGpm, "gpm") },
            { key: "power", title: t("meter.power"), cell: (r) => or(r.powerW, "W") },
          ]}
        />
      )}
      {v.primeSeconds != null && <p>{t("visit.prime", { n: v.primeSeconds })}</p>}
      {v.drainSeconds != null && <p>{t("visit.drain", { n: v.drainSeconds })}</p>}
      {v.stopId && <Runs pool={v.poolId} stop={v.stopId} />}
      <VisitPhotos pool={v.poolId} visit={v.id} />
      {!v.verdict && <p className="quiet">{t("visit.takenOver")}</p>}
      {v.verdict && (
        <>
          <h2>{t("visit.shown")}</h2>
          <p className="quiet">{t("visit.engine", { version: v.verdict.engineVersion })}</p>
          <ol className="sus">
            {v.verdict.suspects.slice(0, 4).map((s) => (
              <li key={s.id}>
                <div className="sus-row">
                  <span className="s-name">{s.name}</span>
                  <span className="s-p">{chance(s.p)} %</span>
                  <span className="bar">
                    <i style={{ width: `${100 * s.p}%` }} />
                  </span>
                </div>
              </li>
            ))}
          </ol>
          <p>
            <b>{v.verdict.advice.says}:</b> {v.verdict.advice.reason}
          </p>
        </>
      )}
    </article>
  );
}

/** The pictures of the visit, and the way to add one. */
function VisitPhotos({ pool, visit }: { pool: string; visit: string }) {
  const { t } = useTranslation();
  const about = api.useQuery("get", "/api/v1/pools/{id}/about", { params: { path: { id: pool } } });
  const shots = about.data?.photos.filter((p) => p.visitId === visit) ?? [];
  return (
    <section>
      <h2>{t("visit.photos")}</h2>
      <Photos shots={shots} mayEdit={about.data?.mayEdit ?? false} />
      <AddPhoto pool={pool} of={{ visit }} />
    </section>
  );
}

/** The guided runs of the visit. */
function Runs({ pool, stop }: { pool: string; stop: string }) {
  const { t } = useTranslation();
  const work = useWork(pool, stop);
  if (!work?.runs.length) return null;
  return (
    <section aria-labelledby="runs-head">
      <h2 id="runs-head">{t("run.runs")}</h2>
      {work.runs.map((r) => (
        <RunLine key={r.id} run={r} />
      ))}
    </section>
  );
}
