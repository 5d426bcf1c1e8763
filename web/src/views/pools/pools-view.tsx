import { useEffect, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useLocation } from "react-router";
import { api, type PoolLine } from "../../api/client";
import { day, percent } from "../../parts/format";
import type { FrameProps } from "../../parts/frame";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { Strip } from "../../parts/strip";
import { useSettled } from "../../parts/use-settled";

/** How many lines are drawn at first: a company has thousands of pools. */
const shownAtFirst = 200;

/** What of a pool holds the letters: its part, else whose it is. */
const why = (f?: { customer: string; part: string }) => (f ? f.part || f.customer : "");

export function PoolsView(frame: FrameProps) {
  const { t } = useTranslation();
  const [find, setFind] = useState("");
  const pools = api.useQuery("get", "/api/pools");
  const field = useRef<HTMLInputElement>(null);
  const asked = (useLocation().state as { find?: boolean } | null)?.find;
  useEffect(() => {
    if (asked) field.current?.focus();
  }, [asked]);
  const want = useSettled(find.trim());
  const hits = api.useQuery(
    "get",
    "/api/find",
    { params: { query: { q: want } } },
    { enabled: want !== "", placeholderData: (before: unknown) => before as never },
  );
  const [all, setAll] = useState(false);
  const found = want ? hits.data : undefined;
  const known = new Map(pools.data?.map((p) => [p.id, p]));
  const listed = found
    ? found.flatMap((f) => (known.has(f.id) ? [known.get(f.id) as PoolLine] : []))
    : want
      ? undefined
      : pools.data;
  const shown = all ? listed : listed?.slice(0, shownAtFirst);
  const gone = found?.filter((f) => f.archived) ?? [];
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
        {shown && shown.length === 0 && gone.length === 0 && (
          <p className="quiet-state">{t(want ? "pools.noneFound" : "pools.none")}</p>
        )}
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
                      <span>{why(found?.find((f) => f.id === p.id)) || p.equipment}</span>
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
        {listed && shown && listed.length > shown.length && (
          <button type="button" className="btn more" onClick={() => setAll(true)}>
            {t("pools.showAll", { count: listed.length })}
          </button>
        )}
        {gone.length > 0 && (
          <ul className="gone">
            {gone.map((f) => (
              <li key={f.id}>
                <Link to={`/pools/${f.id}/about`}>{f.street}</Link>{" "}
                <span className="quiet">
                  {t("pools.archived")} {why(f)}
                </span>
              </li>
            ))}
          </ul>
        )}
      </main>
    </div>
  );
}
