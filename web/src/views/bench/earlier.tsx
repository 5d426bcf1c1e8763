import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api } from "../../api/client";
import { entryLine } from "../../parts/entry-line";
import { day } from "../../parts/format";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import styles from "./earlier.module.css";

/** How many entries stand here; the record has them all. */
const few = 8;

/** What was found and done here before, newest first. */
export function Earlier({ pool }: { pool: string }) {
  const { t } = useTranslation();
  const log = api.useQuery("get", "/api/v1/pools/{id}/log", {
    params: { path: { id: pool }, query: { kind: ["visit", "run", "part"] } },
  });
  if (log.isError && !log.data) return <Trouble error={log.error} onRetry={() => log.refetch()} />;
  if (!log.data) return <Loading />;
  return (
    <section className="sec" aria-label={t("record.history")}>
      {log.data.entries.length === 0 && <p className="empty">{t("record.noEntries")}</p>}
      <ol className={styles.earlier}>
        {log.data.entries.slice(0, few).map((e) => {
          const line = entryLine(e, t);
          return (
            <li key={e.kind + e.id}>
              <span className="quiet">{day(e.at)}</span>
              <span>
                <StateMark mark={line.mark} size={14} /> {line.to ? <Link to={line.to}>{line.what}</Link> : line.what}
                {line.detail && <span className={styles.detail}>{line.detail}</span>}
              </span>
            </li>
          );
        })}
      </ol>
      <Link to={`/pools/${pool}`}>{t("bench.record")}</Link>
    </section>
  );
}
