import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { type AuditEntry, api, http } from "../../api/client";
import { clock, longDay } from "../../parts/format";
import { Loading, Trouble } from "../../parts/quiet-states";

/** Who changed what, newest first. */
export function Trail() {
  const { t } = useTranslation();
  const first = api.useQuery("get", "/api/audit");
  const [more, setMore] = useState<AuditEntry[]>([]);
  const [end, setEnd] = useState(false);
  if (first.isError && !first.data) return <Trouble error={first.error} onRetry={() => first.refetch()} />;
  if (!first.data) return <Loading />;
  const all = [...first.data, ...more];
  const readOn = async () => {
    const before = all[all.length - 1].at;
    const { data } = await http.GET("/api/audit", { params: { query: { before } } });
    setMore([...more, ...(data ?? [])]);
    setEnd(!data?.length);
  };
  return (
    <section>
      <p className="quiet">{t("trail.what")}</p>
      {all.length === 0 && <p className="empty">{t("trail.none")}</p>}
      <ul className="part-events" id="trail">
        {all.map((e) => (
          <li key={e.at + e.says}>
            <span className="quiet">
              {longDay(e.at)}, {clock(e.at)}, {e.by || t("trail.program")}
            </span>{" "}
            {e.street && <Link to={`/pools/${e.poolId}`}>{e.street}</Link>} {e.says}
          </li>
        ))}
      </ul>
      {all.length >= 50 && !end && (
        <button type="button" className="btn" onClick={readOn}>
          {t("trail.more")}
        </button>
      )}
    </section>
  );
}
