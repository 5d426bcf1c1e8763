import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { api, type VisitRecord } from "../../api/client";
import { chance, clock, day, figure, measured } from "../../parts/format";
import type { FrameProps } from "../../parts/frame";
import { AddPhoto, Photos } from "../../parts/photos";
import { Loading, Trouble } from "../../parts/quiet-states";
import { RunLine, useWork } from "../../parts/runs-and-work";
import { StateMark } from "../../parts/state-mark";
import { Strip } from "../../parts/strip";
import { visitLine } from "./visit-line";

/** One visit of the record: what was read, seen, shown and done. */
export function VisitView(frame: FrameProps) {
  const { id = "" } = useParams();
  const visit = api.useQuery("get", "/api/v1/visits/{id}", { params: { path: { id } } });
  return (
    <div className="frame plain">
      <Strip {...frame} />
      <main className="whole">
        {visit.data ? (
          <Visit v={visit.data} />
        ) : visit.isError ? (
          <Trouble error={visit.error} onRetry={() => visit.refetch()} />
        ) : (
          <Loading />
        )}
      </main>
    </div>
  );
}

function Visit({ v }: { v: VisitRecord }) {
  const { t } = useTranslation();
  const line = visitLine(v, t);
  return (
    <article className="visit">
      <header className="top">
        <h1>{v.street}</h1>
        <Link className="btn plain" to={`/pools/${v.poolId}/papers/visit?of=${v.id}`}>
          {t("visit.paper")}
        </Link>
        <Link className="btn" to={`/pools/${v.poolId}`}>
          {t("bench.record")}
        </Link>
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
      {v.note && <p>{v.note}</p>}
      <h2>{t("readings.title")}</h2>
      {v.readings.length === 0 && <p className="empty">{t("visit.noReadings")}</p>}
      {v.readings.length > 0 && (
        <table className="twin stacks">
          <thead>
            <tr>
              <th scope="col">{t("visit.when")}</th>
              {["speed", "tank", "vacuum", "flow", "power"].map((m) => (
                <th key={m} scope="col">
                  {t(`meter.${m}`)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {v.readings.map((r, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: readings have no id of their own
              <tr key={i}>
                <th scope="row">{t(`visit.${r.phase}`)}</th>
                <td data-head={t("meter.speed")}>{figure(r.rpm, "rpm")} rpm</td>
                <td data-head={t("meter.tank")}>{r.tankPsi == null ? "–" : `${measured(r.tankPsi, "psi")}`}</td>
                <td data-head={t("meter.vacuum")}>
                  {r.vacuumInHg == null ? "–" : `${measured(r.vacuumInHg, "inHg")}`}
                </td>
                <td data-head={t("meter.flow")}>{r.flowGpm == null ? "–" : `${measured(r.flowGpm, "gpm")}`}</td>
                <td data-head={t("meter.power")}>{r.powerW == null ? "–" : `${figure(r.powerW, "W")} W`}</td>
              </tr>
            ))}
          </tbody>
        </table>
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
