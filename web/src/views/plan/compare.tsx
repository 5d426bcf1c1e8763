import { useTranslation } from "react-i18next";
import type { PlanView as Plan } from "../../api/client";
import { DataTable } from "../../parts/data-table";
import { measured, money } from "../../parts/format";

type Programme = Plan["present"];

/** The present programme beside the plan, figure by figure. */
export function Compare({
  present,
  plan,
  edited,
}: {
  present: Programme;
  plan: Programme | null | undefined;
  edited: boolean;
}) {
  const { t } = useTranslation();
  const breaks = (p: Programme) => p.broken.map((b) => b.says).join(" ") || t("plan.nothing");
  const rows: [string, (p: Programme) => string][] = [
    [t("plan.turnovers"), (p) => p.totals.turnovers.toFixed(2)],
    [t("plan.water"), (p) => measured(p.totals.gallons, "gal")],
    [t("plan.kwh"), (p) => p.totals.kwh.toFixed(2)],
    [t("plan.month"), (p) => money(p.month)],
    [t("plan.halfYear"), (p) => money(p.season)],
    [t("plan.media"), (p) => measured(p.totals.mediaRate, "gpm/ft²")],
    [t("plan.noise"), (p) => p.totals.noiseHours.toFixed(1)],
    [t("plan.starts"), (p) => String(p.totals.starts)],
  ];
  if (present.starts || plan?.starts) rows.push([t("plan.startsMonth"), (p) => money(p.starts)]);
  return (
    <DataTable
      name="compare"
      label={t("plan.aDay")}
      rows={[
        ...rows.map(([name, of]) => ({ name, present: of(present), plan: plan ? of(plan) : "–" })),
        { name: t("plan.breaks"), present: breaks(present), plan: plan ? breaks(plan) : "–" },
      ]}
      keyOf={(r) => r.name}
      columns={[
        { key: "a-day", title: t("plan.aDay"), head: true, cell: (r) => r.name },
        { key: "present", title: t("plan.present"), cell: (r) => r.present },
        { key: "plan", title: t(edited ? "plan.edited" : "plan.plan"), cell: (r) => r.plan },
      ]}
    />
  );
}
