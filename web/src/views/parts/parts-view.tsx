import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api } from "../../api/client";
import { date, money, today } from "../../parts/format";
import type { FrameProps } from "../../parts/frame";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { Strip } from "../../parts/strip";

/** How many lines are drawn at first: a company has thousands of parts. */
const shownAtFirst = 200;

/** Parts across all pools: whose life ends when, found by a few letters. */
export function PartsView(frame: FrameProps) {
  const { t } = useTranslation();
  const [find, setFind] = useState("");
  const [all, setAll] = useState(false);
  const parts = api.useQuery("get", "/api/parts");
  const want = find.trim().toLowerCase();
  const found = parts.data?.filter((p) => `${p.name} ${p.model} ${p.serial} ${p.street}`.toLowerCase().includes(want));
  const shown = all ? found : found?.slice(0, shownAtFirst);
  const late = found?.filter((p) => p.dueOn && p.dueOn <= today());
  const worth = found?.reduce((sum, p) => sum + (p.cost ?? 0), 0) ?? 0;
  return (
    <div className="frame plain">
      <Strip {...frame} />
      <main className="whole">
        <header className="top">
          <h1>{t("parts.title")}</h1>
          <label className="find">
            <span className="sr">{t("parts.find")}</span>
            <input
              id="find-part"
              type="search"
              placeholder={t("parts.find")}
              value={find}
              onChange={(e) => setFind(e.target.value)}
            />
          </label>
        </header>
        {parts.isError && !parts.data && <Trouble error={parts.error} onRetry={() => parts.refetch()} />}
        {parts.isPending && <Loading />}
        {found && (
          <p className="parts-sum" id="parts-sum">
            {t("parts.sum", { count: found.length, late: late?.length ?? 0 })}
            {worth > 0 && ` ${t("parts.worth", { cost: money(worth) })}`}
          </p>
        )}
        {shown && shown.length > 0 && (
          <table className="parts-table">
            <thead>
              <tr>
                <th>{t("parts.dueOn")}</th>
                <th>{t("parts.part")}</th>
                <th>{t("lap.pool")}</th>
                <th>{t("parts.age")}</th>
                <th>{t("parts.field.cost")}</th>
              </tr>
            </thead>
            <tbody>
              {shown.map((p) => (
                <tr key={p.id}>
                  <td>
                    {p.dueOn && p.dueOn <= today() && <StateMark mark="act" />} {p.dueOn ? date(p.dueOn) : "–"}
                  </td>
                  <td>
                    <b>{p.name}</b> {[p.model, p.serial].filter(Boolean).join(", ")}
                  </td>
                  <td>
                    <Link to={`/pools/${p.poolId}`}>{p.street}</Link>
                  </td>
                  <td>
                    {p.ageYears?.toFixed(1) ?? "–"} {t("record.of")} {p.expectedYears ?? "–"} {t("record.years")}
                  </td>
                  <td className={p.cost == null ? "none" : ""}>{p.cost == null ? "–" : money(p.cost)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {found && shown && found.length > shown.length && (
          <button type="button" className="btn" onClick={() => setAll(true)}>
            {t("parts.all", { count: found.length })}
          </button>
        )}
      </main>
    </div>
  );
}
