import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { api } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { DataTable } from "../../parts/data-table";
import { clock, longDay } from "../../parts/format";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";

const marks = { waiting: "hold", working: "job", done: "fine", failed: "act", again: "act" } as const;

/** How often the list is asked for while it is looked at, ms. */
const eachLook = 5000;

/** What the servers do beside, newest first: how it stands, and what failed. */
export function Jobs() {
  const { t } = useTranslation();
  const changed = useChanged();
  const jobs = api.useQuery("get", "/api/v1/jobs", {}, { refetchInterval: eachLook });
  const again = api.useMutation("post", "/api/v1/jobs/{id}/again", { onSuccess: () => changed("jobs") });
  if (jobs.isError && !jobs.data) return <Trouble error={jobs.error} onRetry={() => jobs.refetch()} />;
  if (!jobs.data) return <Loading />;
  return (
    <section>
      <p className="quiet">{t("jobs.what")}</p>
      <DataTable
        name="jobs"
        label={t("office.rooms.jobs")}
        stacks
        rows={jobs.data}
        keyOf={(j) => j.id}
        empty={t("jobs.none")}
        columns={[
          { key: "kind", title: t("jobs.kind"), head: true, cell: (j) => t(`jobs.kinds.${j.kind}`) },
          {
            key: "state",
            title: t("jobs.state"),
            cell: (j) => (
              <span className="state-line">
                <StateMark mark={marks[j.state]} size={16} />
                <span>
                  {t(`jobs.states.${j.state}`)}
                  {j.attempt > 1 && ` ${t("jobs.attempt", { n: j.attempt, most: j.most })}`}
                  {j.trouble && (
                    <span className="quiet" lang="en">
                      {" "}
                      {j.trouble}
                    </span>
                  )}
                </span>
              </span>
            ),
          },
          { key: "made", title: t("jobs.made"), cell: (j) => `${longDay(j.made)}, ${clock(j.made)}` },
          {
            key: "again",
            title: <span className="sr">{t("jobs.again")}</span>,
            cell: (j) =>
              j.mayAgain && (
                <Button
                  size="small"
                  disabled={again.isPending}
                  onClick={() => again.mutate({ params: { path: { id: j.id } } })}
                >
                  {t("jobs.again")}
                </Button>
              ),
          },
        ]}
      />
    </section>
  );
}
