import { useTranslation } from "react-i18next";
import type { PlanView as Plan } from "../../api/client";
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
    <table className="twin compare">
      <thead>
        <tr>
          <th scope="col">{t("plan.aDay")}</th>
          <th scope="col">{t("plan.present")}</th>
          <th scope="col">{t(edited ? "plan.edited" : "plan.plan")}</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, of]) => (
          <tr key={name}>
            <th scope="row">{name}</th>
            <td className="unbroken">{of(present)}</td>
            <td className="unbroken">{plan ? of(plan) : "–"}</td>
          </tr>
        ))}
        <tr>
          <th scope="row">{t("plan.breaks")}</th>
          <td>{present.broken.map((b) => b.says).join(" ") || t("plan.nothing")}</td>
          <td>{plan ? plan.broken.map((b) => b.says).join(" ") || t("plan.nothing") : "–"}</td>
        </tr>
      </tbody>
    </table>
  );
}
