import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useLocation } from "react-router";
import { api } from "../../api/client";
import { day, percent } from "../../parts/format";
import type { FrameProps } from "../../parts/frame";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { Strip } from "../../parts/strip";

export function PoolsView(frame: FrameProps) {
  const { t } = useTranslation();
  const [find, setFind] = useState("");
  const pools = api.useQuery("get", "/api/pools");
  const field = useRef<HTMLInputElement>(null);
  const asked = (useLocation().state as { find?: boolean } | null)?.find;
  useEffect(() => {
    if (asked) field.current?.focus();
  }, [asked]);
  const want = find.trim().toLowerCase();
  const shown = pools.data?.filter((p) => `${p.street} ${p.equipment} ${p.technician}`.toLowerCase().includes(want));
  return (
    <div className="frame plain">
      <Strip {...frame} />
      <main className="whole">
        <header className="top">
          <h1>{t("pools.title")}</h1>
          <Link className="btn" id="take-on" to="/pools/new">
            {t("pools.takeOn")}
          </Link>
          <Link className="btn plain" to="/parts">
            {t("parts.title")}
          </Link>
          <Link className="btn plain" to="/catalogue">
            {t("pools.catalogue")}
          </Link>
          <Link className="btn plain" to="/cleaning">
            {t("cleaningSettings.title")}
          </Link>
          <Link className="btn plain" to="/track-record">
            {t("track.title")}
          </Link>
          <label className="find">
            <span className="sr">{t("pools.find")}</span>
            <input
              ref={field}
              id="find-pool"
              type="search"
              placeholder={t("pools.find")}
              value={find}
              onChange={(e) => setFind(e.target.value)}
            />
          </label>
        </header>
        {pools.isError && !pools.data && <Trouble error={pools.error} onRetry={() => pools.refetch()} />}
        {pools.isPending && <Loading />}
        {shown && shown.length === 0 && <p className="quiet-state">{t(want ? "pools.noneFound" : "pools.none")}</p>}
        {shown && shown.length > 0 && (
          <table className="tt pools">
            <thead>
              <tr>
                <th>{t("lap.pool")}</th>
                <th>{t("lap.load")}</th>
                <th>{t("pools.daysLeft")}</th>
                <th>{t("pools.open")}</th>
                <th>{t("pools.lastVisit")}</th>
                <th>{t("pools.technician")}</th>
              </tr>
            </thead>
            <tbody>
              {shown.map((p) => (
                <tr key={p.id}>
                  <td className="p">
                    <Link to={`/pools/${p.id}`}>
                      <b>{p.street}</b>
                      <span>{p.equipment}</span>
                    </Link>
                  </td>
                  <td className="l">
                    {p.load == null ? (
                      t("pools.notKnown")
                    ) : (
                      <>
                        <span className="exp">{percent(p.load)}</span> %
                        <span className="lbar ahead">
                          <i style={{ width: `${Math.min(100, 100 * p.load)}%` }} />
                        </span>
                      </>
                    )}
                  </td>
                  <td>{p.daysLeft == null ? "–" : t("pools.days", { count: Math.round(p.daysLeft) })}</td>
                  <td>
                    {p.open && (
                      <span className="why">
                        <StateMark mark="open" /> {p.open}
                      </span>
                    )}
                  </td>
                  <td>{p.lastVisit ? day(p.lastVisit) : t("pools.never")}</td>
                  <td>{p.technician}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </main>
    </div>
  );
}
