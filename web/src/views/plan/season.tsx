import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api } from "../../api/client";
import { measured, money, monthName } from "../../parts/format";
import { Loading } from "../../parts/quiet-states";

/** What the plan should become month by month; worked out when asked for. */
export function Season({ id }: { id: string }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  const year = api.useQuery(
    "get",
    "/api/v1/pools/{id}/plan/season",
    { params: { path: { id } } },
    { enabled: open, staleTime: 600_000 },
  );
  return (
    <details className="wear" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary id="plan-season">{t("plan.season")}</summary>
      {open && !year.data && <Loading />}
      {year.data && (
        <table className="twin">
          <thead>
            <tr>
              {["monthName", "air", "turnovers", "hours", "month", "slots"].map((h) => (
                <th key={h} scope="col">
                  {t(`plan.${h}`)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {year.data.map((m) => (
              <tr key={m.month}>
                <th scope="row">{monthName(m.month)}</th>
                <td className="unbroken">{measured(m.airF, "°F")}</td>
                <td>{m.turnovers}</td>
                <td>{m.hours.toFixed(1)}</td>
                <td>{m.says ? "–" : money(m.cost)}</td>
                <td>{m.says || m.slots.join(" · ")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </details>
  );
}

/** The schools side by side. */
export function Schools({ id }: { id: string }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  const rows = api.useQuery(
    "get",
    "/api/v1/pools/{id}/plan/schools",
    { params: { path: { id } } },
    { enabled: open, staleTime: 600_000 },
  );
  return (
    <details className="wear" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary id="plan-schools">{t("plan.schools")}</summary>
      {open && !rows.data && <Loading />}
      {rows.data && (
        <table className="twin">
          <thead>
            <tr>
              {["school", "turnovers", "kwh", "month", "media"].map((h) => (
                <th key={h} scope="col">
                  {t(`plan.${h}`)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.data.map((r) => (
              <tr key={r.name}>
                <th scope="row">{r.name}</th>
                {r.says ? (
                  <td colSpan={4}>{r.says}</td>
                ) : (
                  <>
                    <td>{r.turnovers.toFixed(2)}</td>
                    <td>{r.kwh.toFixed(2)}</td>
                    <td>{money(r.month)}</td>
                    <td>{measured(r.mediaRate, "gpm/ft²")}</td>
                  </>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </details>
  );
}
