import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api } from "../../api/client";
import { DataTable } from "../../parts/data-table";
import { Fold } from "../../parts/fold";
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
    <Fold id="plan-season" head={t("plan.season")} onOpen={setOpen}>
      {open && !year.data && <Loading />}
      {year.data && (
        <DataTable
          name="year"
          label={t("plan.year")}
          stacks
          rows={year.data}
          keyOf={(m) => m.month}
          columns={[
            { key: "month-name", title: t("plan.monthName"), head: true, cell: (m) => monthName(m.month) },
            { key: "air", title: t("plan.air"), cell: (m) => measured(m.airF, "°F") },
            { key: "turnovers", title: t("plan.turnovers"), cell: (m) => m.turnovers },
            { key: "hours", title: t("plan.hours"), cell: (m) => m.hours.toFixed(1) },
            { key: "month", title: t("plan.month"), cell: (m) => (m.says ? "–" : money(m.cost)) },
            { key: "slots", title: t("plan.slots"), cell: (m) => m.says || m.slots.join(" · ") },
          ]}
        />
      )}
    </Fold>
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
    <Fold id="plan-schools" head={t("plan.schools")} onOpen={setOpen}>
      {open && !rows.data && <Loading />}
      {rows.data && (
        <DataTable
          name="schools"
          label={t("plan.school")}
          stacks
          rows={rows.data}
          keyOf={(r) => r.name}
          columns={[
            {
              key: "school",
              title: t("plan.school"),
              head: true,
              cell: (r) => (
                <>
                  {r.name}
                  {r.says && <span className="quiet"> {r.says}</span>}
                </>
              ),
            },
            { key: "turnovers", title: t("plan.turnovers"), cell: (r) => (r.says ? "–" : r.turnovers.toFixed(2)) },
            { key: "kwh", title: t("plan.kwh"), cell: (r) => (r.says ? "–" : r.kwh.toFixed(2)) },
            { key: "month", title: t("plan.month"), cell: (r) => (r.says ? "–" : money(r.month)) },
            { key: "media", title: t("plan.media"), cell: (r) => (r.says ? "–" : measured(r.mediaRate, "gpm/ft²")) },
          ]}
        />
      )}
    </Fold>
  );
}
