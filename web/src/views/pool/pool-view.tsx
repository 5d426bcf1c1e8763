import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useLocation, useParams } from "react-router";
import { api, http, type PoolRecordView, type VisitRecord } from "../../api/client";
import { clock, date, day, daysBetween, figure, longDay, now, percent } from "../../parts/format";
import type { FrameProps } from "../../parts/frame";
import { Tool } from "../../parts/glyphs";
import { PoolPages } from "../../parts/pool-pages";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { Strip } from "../../parts/strip";
import { AccessNote } from "./access-note";
import { CleanLineChart, LoadChart } from "./charts";
import { Equipment } from "./equipment";
import { visitLine } from "./visit-line";

export function PoolView(frame: FrameProps) {
  const { id = "" } = useParams();
  const pool = api.useQuery("get", "/api/pools/{id}", { params: { path: { id } } });
  if (pool.data) return <Record key={id} frame={frame} view={pool.data} />;
  return (
    <div className="frame plain">
      <Strip {...frame} />
      <main className="whole">
        {pool.isError ? <Trouble error={pool.error} onRetry={() => pool.refetch()} /> : <Loading />}
      </main>
    </div>
  );
}

function Record({ frame, view }: { frame: FrameProps; view: PoolRecordView }) {
  const { t } = useTranslation();
  const p = view.pool;
  const saved = (useLocation().state as { saved?: string } | null)?.saved;
  return (
    <div className="frame record">
      <Strip {...frame} current={view.stopId || undefined} />
      <header className="pool">
        <div className="pool-name">
          <h1>{p.street}</h1>
          <span className="stop-no">{t("record.since", { at: date(p.since) })}</span>
          {view.stopId && (
            <Link className="btn main" to={`/stops/${view.stopId}`}>
              {t("record.bench")}
              <Tool name="right" />
            </Link>
          )}
        </div>
        <p className="facts">
          <span>{figure(Math.round(p.gallons / 100) * 100, "gal")} gal</span>
          <span>{p.equipment}</span>
          {p.lastCleaned && <span>{t("bench.cleaned", { count: daysBetween(p.lastCleaned, now()) })}</span>}
          {p.usualDays > 0 && <span>{t("record.usual", { count: Math.round(p.usualDays) })}</span>}
          {saved && (
            <span className="saved" role="status">
              {t("record.saved", { at: clock(saved) })}
            </span>
          )}
        </p>
        <AccessNote pool={p} mayEdit={view.mayEdit} />
        <PoolPages id={p.id} />
      </header>
      <main className="quarters">
        <section className="sec q1">
          <div className="sec-head">
            <h2>{t("record.cleanLine")}</h2>
            <span className="quiet">
              {p.cleanLineAt ? t("record.setOn", { at: longDay(p.cleanLineAt) }) : t("record.fromCatalogue")}
            </span>
          </div>
          <CleanLineChart view={view} />
        </section>
        <section className="sec q2">
          <div className="sec-head">
            <h2>{t("record.load")}</h2>
            <span className="quiet">{t("record.arrow")}</span>
          </div>
          {view.points.length ? <LoadChart view={view} /> : <p className="empty">{t("record.noLoads")}</p>}
        </section>
        <section className="sec q3">
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

type Filter = "all" | "cleaned" | "readings" | "suspects";

function Log({ view }: { view: PoolRecordView }) {
  const { t } = useTranslation();
  const [more, setMore] = useState<{ visits: VisitRecord[]; before?: string | null }>({
    visits: [],
    before: view.before,
  });
  const [filter, setFilter] = useState<Filter>("all");
  const visits = [...view.log, ...more.visits];
  const shown = visits.filter(
    (v) =>
      filter === "all" ||
      (filter === "cleaned" && v.cleaned) ||
      (filter === "readings" && v.readings.length > 0) ||
      (filter === "suspects" && v.confirmed !== ""),
  );
  const readOn = async () => {
    if (!more.before) return;
    const { data } = await http.GET("/api/pools/{id}/log", {
      params: { path: { id: view.pool.id }, query: { before: more.before } },
    });
    if (data) setMore({ visits: [...more.visits, ...data.visits], before: data.before });
  };
  return (
    <section className="sec q4">
      <div className="sec-head">
        <h2>{t("record.history")}</h2>
        <span className="quiet">{t("record.visits", { count: view.visitCount })}</span>
      </div>
      <fieldset className="filters">
        <legend className="sr">{t("record.show")}</legend>
        {(["all", "cleaned", "readings", "suspects"] as const).map((f) => (
          <button key={f} type="button" aria-pressed={f === filter} onClick={() => setFilter(f)}>
            {t(`record.filter.${f}`)}
          </button>
        ))}
      </fieldset>
      {shown.length === 0 && <p className="empty">{t("record.noVisits")}</p>}
      <table className="log">
        <thead className="sr">
          <tr>
            <th>{t("record.date")}</th>
            <th>{t("record.what")}</th>
            <th>{t("record.detail")}</th>
            <th>{t("lap.load")}</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((v) => {
            const line = visitLine(v, t);
            const load = v.loadAfter ?? v.load;
            return (
              <tr key={v.id} className={v.correctedBy ? "corrected" : ""} data-visit={v.id}>
                <td className="d">{day(v.arrivedAt)}</td>
                <td className="a">
                  <StateMark mark={line.mark} />
                  <Link to={`/visits/${v.id}`}>
                    <b>{line.what}</b>
                  </Link>
                  {v.correctedBy && <span className="quiet"> {t("record.corrected")}</span>}
                  {v.corrects && <span className="quiet"> {t("record.correction")}</span>}
                </td>
                <td>{line.detail}</td>
                <td className="ld">
                  {load != null && (
                    <>
                      <span className="fig">{percent(Math.max(0, load))}</span> %
                    </>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {more.before && (
        <button type="button" className="btn" onClick={readOn}>
          {t("record.earlier")}
        </button>
      )}
    </section>
  );
}
