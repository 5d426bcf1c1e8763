import { useTranslation } from "react-i18next";
import { api, type LimitsView as Limits, type PadOnRecord } from "../../api/client";
import { PadPage } from "../../frame/pad-page";
import { PoolPages } from "../../frame/pool-pages";
import { DataTable } from "../../parts/data-table";
import { Fold } from "../../parts/fold";
import { figure } from "../../parts/format";
import { LimitWindows } from "../../parts/limit-windows";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import styles from "./limits.module.css";

/** Every limit of a pad at every programmed speed, and the speeds that keep them all. */
export function LimitsView() {
  return <PadPage of={(pad) => <PadLimits pad={pad} />} />;
}

function PadLimits({ pad }: { pad: PadOnRecord }) {
  const { t } = useTranslation();
  const limits = api.useQuery("get", "/api/v1/pools/{id}/limits", { params: { path: { id: pad.poolId } } });
  return (
    <>
      <header className="top">
        <h1>{pad.street}</h1>
      </header>
      <PoolPages id={pad.poolId} />
      {limits.isError && <Trouble error={limits.error} onRetry={() => limits.refetch()} />}
      {limits.isPending && <Loading />}
      {limits.data && (
        <div className={styles.limits}>
          <LimitWindows limits={limits.data} />
          {(["filter", "backwash"] as const).map((job) => (
            <LimitTable key={job} job={job} limits={limits.data} />
          ))}
          <p className="quiet">{t("limits.foot")}</p>
        </div>
      )}
    </>
  );
}

function LimitTable({ job, limits }: { job: "filter" | "backwash"; limits: Limits }) {
  const { t } = useTranslation();
  const rows = limits.limits.filter((l) => l.job === job);
  if (!rows.length) return null;
  return (
    <section className={styles["limit-table"]}>
      <h2>{t(`limits.caption.${job}`)}</h2>
      <DataTable
        label={t(`limits.caption.${job}`)}
        stacks
        rows={rows}
        keyOf={(l) => l.id}
        attrs={(l) => ({ "data-limit": l.id })}
        columns={[
          {
            key: "limit",
            title: t("limits.limit"),
            cell: (l) => (
              <Fold head={l.name}>
                <p>
                  {l.reason} {l.advice ? t("limits.advice") : ""}
                </p>
                <p className="quiet">{l.source}</p>
              </Fold>
            ),
          },
          {
            key: "bound",
            title: t("limits.bound"),
            cell: (l) => (
              <>
                {t(`limits.${l.bound}`)} <span className="n">{round(l.value)}</span> {l.unit}
              </>
            ),
          },
          ...limits.speeds.map((s, k) => ({
            key: `at-${s}`,
            title: `${figure(s, "rpm")} rpm`,
            cell: (l: (typeof rows)[number]) => {
              const a = l.at[k];
              return (
                a && (
                  <span className={a.ok ? "" : "over"}>
                    <StateMark mark={a.ok ? "fine" : l.advice ? "act" : "stop"} size={14} />{" "}
                    <span className="exp">{round(a.value)}</span>
                    <span className="sr"> {t(a.ok ? "limits.kept" : "limits.broken")}</span>
                  </span>
                )
              );
            },
          })),
          {
            key: "keeps",
            title: t("limits.keeps"),
            cell: (l) =>
              l.rpm ? t(`limits.speed.${l.speedBound}`, { rpm: figure(l.rpm, "rpm") }) : t("limits.noSpeed"),
          },
        ]}
      />
    </section>
  );
}

const round = (v: number) => (Math.abs(v) >= 100 ? v.toFixed(0) : v.toFixed(1)).replace("-", "−");
