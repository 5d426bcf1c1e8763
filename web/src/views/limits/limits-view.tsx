import { useTranslation } from "react-i18next";
import { api, type LimitsView as Limits, type PadOnRecord } from "../../api/client";
import { figure } from "../../parts/format";
import type { FrameProps } from "../../parts/frame";
import { LimitWindows } from "../../parts/limit-windows";
import { PadPage } from "../../parts/pad-page";
import { PoolPages } from "../../parts/pool-pages";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";

/** Every limit of a pad at every programmed speed, and the speeds that keep them all. */
export function LimitsView(frame: FrameProps) {
  return <PadPage frame={frame} of={(pad) => <PadLimits pad={pad} />} />;
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
        <div className="limits">
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
    <table className="twin limit-table">
      <caption>
        <h2>{t(`limits.caption.${job}`)}</h2>
      </caption>
      <thead>
        <tr>
          <th>{t("limits.limit")}</th>
          <th>{t("limits.bound")}</th>
          {limits.speeds.map((s) => (
            <th key={s}>{figure(s, "rpm")} rpm</th>
          ))}
          <th>{t("limits.keeps")}</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((l) => (
          <tr key={l.id} data-limit={l.id}>
            <td>
              <details className="why">
                <summary>{l.name}</summary>
                <p>
                  {l.reason} {l.advice ? t("limits.advice") : ""}
                </p>
                <p className="quiet">{l.source}</p>
              </details>
            </td>
            <td>
              {t(`limits.${l.bound}`)} <span className="n">{round(l.value)}</span> {l.unit}
            </td>
            {l.at.map((a) => (
              <td key={a.rpm} data-rpm={`${figure(a.rpm, "rpm")} rpm`} className={a.ok ? "" : "over"}>
                <StateMark mark={a.ok ? "fine" : l.advice ? "act" : "stop"} size={14} />{" "}
                <span className="exp">{round(a.value)}</span>
                <span className="sr"> {t(a.ok ? "limits.kept" : "limits.broken")}</span>
              </td>
            ))}
            <td>{l.rpm ? t(`limits.speed.${l.speedBound}`, { rpm: figure(l.rpm, "rpm") }) : t("limits.noSpeed")}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const round = (v: number) => (Math.abs(v) >= 100 ? v.toFixed(0) : v.toFixed(1)).replace("-", "−");
