import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useSearchParams } from "react-router";
import { api, type PadOnRecord, type PathsView as Paths, type PathsAsk } from "../../api/client";
import { PadPage } from "../../frame/pad-page";
import { PoolPages } from "../../frame/pool-pages";
import { Fold } from "../../parts/fold";
import { figure, percent, unitOf } from "../../parts/format";
import { GoButton } from "../../parts/go-button";
import { Hazards } from "../../parts/hazards";
import { PadDrawing, PadTable } from "../../parts/pad-drawing";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { useSettled } from "../../parts/use-settled";
import { HandleBoard } from "./handle-board";
import styles from "./paths.module.css";

export function PathsView() {
  return <PadPage of={(pad) => <Board key={pad.poolId} pad={pad} />} />;
}

/** The answer to a pad state; a late answer never stands for a newer question. */
function usePaths(id: string, ask: PathsAsk) {
  const settled = useSettled(ask);
  const answer = api.useQuery(
    "post",
    "/api/v1/pools/{id}/paths",
    { params: { path: { id } }, body: settled },
    { staleTime: 60_000, placeholderData: (before: Paths | undefined) => before },
  );
  return { paths: answer.data, stale: answer.isPlaceholderData || settled !== ask, answer };
}

function Board({ pad }: { pad: PadOnRecord }) {
  const { t } = useTranslation();
  const [search] = useSearchParams();
  const stop = search.get("stop");
  const speeds = [...new Set((pad.document.programme ?? []).map((s) => s.rpm))].filter((s) => s > 0);
  const [ask, setAsk] = useState<PathsAsk>({
    rpm: speeds[0] ?? pad.document.pump.topRpm,
    setting: "filter",
    handles: {},
  });
  const { paths, stale, answer } = usePaths(pad.poolId, ask);
  const trouble = answer.isError ? answer.error : null;
  return (
    <>
      <header className="top">
        <h1>{pad.street}</h1>
        {stop && <GoButton to={`/stops/${stop}`}>{t("paths.back")}</GoButton>}
      </header>
      <PoolPages id={pad.poolId} />
      <div className={styles.paths}>
        <section className={`${styles["paths-say"]} ${stale ? "stale" : ""}`} aria-label={t("paths.say")}>
          {trouble && <Trouble error={trouble} onRetry={() => answer.refetch()} />}
          {paths && (
            <>
              <Hazards hazards={paths.hazards} />
              <Gauges paths={paths} />
            </>
          )}
          {!paths && !trouble && <Loading />}
        </section>
        <section className={styles["paths-hands"]} aria-label={t("paths.hands")}>
          <p className="caution">
            <StateMark mark="stop" />
            <span>{t("paths.caution")}</span>
          </p>
          <HandleBoard pad={pad} speeds={speeds} ask={ask} onChange={setAsk} />
        </section>
        {paths && (
          <section className={`${styles["paths-water"]} ${stale ? "stale" : ""}`} aria-label={t("paths.water")}>
            <PadDrawing doc={pad.document} paths={paths} label={t("paths.label", { path: paths.settingPath })} />
            <Fold head={t("paths.words")} open>
              <PadTable paths={paths} />
            </Fold>
          </section>
        )}
      </div>
    </>
  );
}

/** What each gauge would read, before anything is touched. */
function Gauges({ paths: p }: { paths: Paths }) {
  const { t } = useTranslation();
  return (
    <dl className={styles.would}>
      <div>
        <dt>{t("meter.flow")}</dt>
        <dd>
          <span className="exp">{figure(p.flowGpm, "gpm")}</span> {unitOf("gpm")}{" "}
          <span className="quiet">± {figure(p.flowSd, "gpm")}</span>
        </dd>
      </div>
      <div>
        <dt>{t("meter.tank")}</dt>
        <dd>
          <span className="exp">{figure(p.tankPsi, "psi")}</span> {unitOf("psi")}{" "}
          <span className="quiet">± {figure(p.tankSd, "psi")}</span>
        </dd>
      </div>
      <div>
        <dt>{t("paths.rest")}</dt>
        <dd>
          <span className="exp">{figure(p.restPsi, "psi")}</span> {unitOf("psi")}
        </dd>
      </div>
      <div>
        <dt>{t("meter.vacuum")}</dt>
        <dd>
          <span className="exp">{figure(p.vacuumInHg, "inHg")}</span> {unitOf("inHg")}
        </dd>
      </div>
      <div>
        <dt>{t("meter.power")}</dt>
        <dd>
          <span className="exp">{figure(p.powerW, "W")}</span> W
        </dd>
      </div>
      <div>
        <dt>{t("lap.load")}</dt>
        <dd>
          <span className="exp">{percent(p.load)}</span> %
        </dd>
      </div>
    </dl>
  );
}
