import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { api, type PoolRecordView } from "../../api/client";
import { Page } from "../../frame/page";
import { PoolPages } from "../../frame/pool-pages";
import { now } from "../../parts/clock";
import { Fold } from "../../parts/fold";
import { chance, date, daysBetween, longDay, measured } from "../../parts/format";
import { Tool } from "../../parts/glyphs";
import { GoButton } from "../../parts/go-button";
import { Loading, Trouble } from "../../parts/quiet-states";
import { ShareLink } from "../../parts/share-link";
import { Term } from "../../parts/term";
import { Undescribed } from "../../parts/undescribed";
import { WaitsHere } from "../../parts/waits-here";
import { Where } from "../../parts/where";
import { AccessNote } from "./access-note";
import { CallOut } from "./call-out";
import { CleanLineChart, LoadChart } from "./charts";
import { Equipment } from "./equipment";
import { HowIsIt } from "./how-is-it";
import { Log } from "./log";
import styles from "./pool.module.css";

export function PoolView() {
  const { id = "" } = useParams();
  const pool = api.useQuery("get", "/api/v1/pools/{id}", { params: { path: { id } } });
  if (pool.data) return <Record key={id} view={pool.data} />;
  return <Page>{pool.isError ? <Trouble error={pool.error} onRetry={() => pool.refetch()} /> : <Loading />}</Page>;
}

function Record({ view }: { view: PoolRecordView }) {
  const { t } = useTranslation();
  const p = view.pool;
  return (
    <div className={`frame ${styles.record}`}>
      <header className="pool">
        <div className="pool-name">
          {view.photo && (
            <Link to={`/pools/${p.id}/about`} className={styles.face}>
              <img src={`/api/v1/photos/${view.photo}`} alt={t("photo.unnamed")} />
            </Link>
          )}
          <h1>{p.street}</h1>
          <span className="stop-no">{t("record.since", { at: date(p.since) })}</span>
          {view.stopId ? (
            <GoButton type="primary" size="large" to={`/stops/${view.stopId}`}>
              {t("record.bench")}
              <Tool name="right" />
            </GoButton>
          ) : (
            !view.archived && <CallOut pool={p.id} />
          )}
          {view.mayShare && <ShareLink pool={p.id} street={p.street} />}
        </div>
        <p className="facts">
          <span>{measured(Math.round(p.gallons / 100) * 100, "gal")}</span>
          <span>{p.equipment}</span>
          {view.customer && <span>{view.customer}</span>}
          {view.phone && (
            <span>
              <a className="where" href={`tel:${view.phone.replace(/[^\d+]/g, "")}`}>
                {view.phone}
              </a>
            </span>
          )}
          <Where pool={p} />
          {p.lastCleaned && <span>{t("bench.cleaned", { count: daysBetween(p.lastCleaned, now()) })}</span>}
          {p.usualDays > 0 && <span>{t("record.usual", { count: Math.round(p.usualDays) })}</span>}
        </p>
        {view.archived && (
          <p className="state-line" role="status">
            {t("record.archived")}
          </p>
        )}
        <WaitsHere pool={p.id} />
        <AccessNote pool={p} mayEdit={view.mayEdit} />
        <PoolPages id={p.id} />
      </header>
      <main className={styles.quarters} id="page">
        <HowIsIt view={view} />
        {view.pad.described ? (
          <>
            <section className={`sec ${styles.q1}`}>
              <div className="sec-head">
                <h2>{t("record.cleanLine")}</h2>
                <Term name="cleanLine" />
                <span className="quiet">
                  {p.cleanLineAt ? t("record.setOn", { at: longDay(p.cleanLineAt) }) : t("record.fromCatalogue")}
                </span>
              </div>
              <CleanLineChart view={view} />
            </section>
            <section className="sec q2">
              <div className="sec-head">
                <h2>{t("record.load")}</h2>
                <Term name="load" />
                <span className="quiet">{t("record.arrow")}</span>
              </div>
              {view.pad.limit && <p className="quiet">{view.pad.limit}</p>}
              {view.points.length ? <LoadChart view={view} /> : <p className="empty">{t("record.noLoads")}</p>}
              <Fold
                head={
                  <>
                    {t("record.wear")} ({view.wear.length})
                  </>
                }
                open={view.wear.length > 0}
              >
                {view.wear.length === 0 && <p className="empty">{t("record.noWear")}</p>}
                {view.wear.map((w) => (
                  <p key={w.id}>
                    <b>{w.name}.</b> {w.says} {w.plan}{" "}
                    <span className="quiet">{t("due.luck", { p: chance(w.luck), n: w.n })}</span>
                  </p>
                ))}
              </Fold>
            </section>
          </>
        ) : (
          <Undescribed pool={p.id} />
        )}
        <section className={`sec ${styles.q3}`}>
          <div className="sec-head">
            <h2>{t("record.equipment")}</h2>
            <span className="quiet">{t("record.age")}</span>
          </div>
          <Equipment view={view} />
        </section>
        <Log view={view} />
      </main>
    </div>
  );
}
