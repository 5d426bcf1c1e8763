import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type PoolRecordView } from "../../api/client";
import { clock, day, percent } from "../../parts/format";
import { type Mark, StateMark } from "../../parts/state-mark";
import styles from "./how-is-it.module.css";

/** Of a life's share, from when on a part is told. */
const worn = 0.85;

/** How the pool is, in one look: filter, suspect, work due, next visit, parts. */
export function HowIsIt({ view }: { view: PoolRecordView }) {
  const { t } = useTranslation();
  const id = view.pool.id;
  const due = api.useQuery("get", "/api/v1/pools/{id}/due", { params: { path: { id } } });
  const now = view.points.length > 0 ? view.forecast.days?.[0] : undefined;
  const first = due.data?.items[0];
  const old = view.parts.filter((p) => p.ageYears != null && p.expectedYears && p.ageYears / p.expectedYears > worn);
  const { cross10, cross50, cross90 } = view.forecast;
  const crosses = [cross10, cross50, cross90].map(Math.round);
  return (
    <section className={styles.how} id="how-is-it" aria-label={t("how.title")}>
      <Fact mark={!now ? "open" : now.p50 >= 1 ? "act" : "fine"} head={t("how.filter")}>
        {now ? (
          <>
            <b>
              <span className="exp">{percent(now.p50)}</span> % {t("how.expected")}
            </b>
            <span>
              {cross50 < 0
                ? t("how.far")
                : cross90 < 0
                  ? t("how.limitFrom", { from: crosses[0], count: crosses[1] })
                  : t("how.limit", { from: crosses[0], count: crosses[1], to: crosses[2] })}
            </span>
          </>
        ) : (
          <b>{t("how.notRead")}</b>
        )}
      </Fact>
      <Fact mark={view.open ? "open" : "fine"} head={t("how.suspect")}>
        <b>{view.open || t("how.noneOpen")}</b>
      </Fact>
      {view.holdUntil && (
        <Fact mark="hold" head={t("how.hold")}>
          <b>{t("how.until", { at: `${day(view.holdUntil)} ${clock(view.holdUntil)}` })}</b>
        </Fact>
      )}
      <Fact mark={first ? "job" : "fine"} head={t("how.due")}>
        <b>{first ? <Link to={`/pools/${id}/due`}>{first.name}</Link> : due.data ? t("how.nothingDue") : "…"}</b>
        {due.data && due.data.items.length > 1 && <span>{t("how.more", { count: due.data.items.length - 1 })}</span>}
      </Fact>
      <Fact mark={view.nextVisit ? "job" : "open"} head={t("how.next")}>
        <b>{view.nextVisit ? day(view.nextVisit) : t("how.noVisit")}</b>
        {view.technician && <span>{view.technician}</span>}
      </Fact>
      <Fact mark={old.length ? "act" : "fine"} head={t("how.parts")}>
        {old.length === 0 && <b>{t("how.partsFine")}</b>}
        {old.slice(0, 2).map((p) => (
          <b key={p.id}>
            <Link to={`/pools/${id}/parts/${p.id}`}>{p.name}</Link>
          </b>
        ))}
        {old.length > 2 && <span>{t("how.more", { count: old.length - 2 })}</span>}
      </Fact>
    </section>
  );
}

function Fact({ mark, head, children }: { mark: Mark; head: string; children: ReactNode }) {
  return (
    <div className={styles.fact}>
      <StateMark mark={mark} size={18} />
      <div>
        <span>{head}</span>
        {children}
      </div>
    </div>
  );
}
