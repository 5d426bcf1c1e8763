import { useTranslation } from "react-i18next";
import { Link, useParams } from "react-router";
import { Page } from "../../frame/page";
import { placeOf, stepOf } from "../../kept/follow";
import { Fold } from "../../parts/fold";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { LaneOfSteps } from "./lane-of-steps";
import { AwayPanel, LeavePanel } from "./leaving";
import { MannerButtons, useManner } from "./manner";
import { PadPlate } from "./pad-plate";
import styles from "./run.module.css";
import { RunEnd } from "./run-end";
import { StepNow } from "./step-now";
import { StepsDone } from "./steps-done";
import { useRun } from "./use-run";
import { useAwake } from "./use-timer";

/** A guided run: one step at a time, the pad's state pinned, the way out always there. */
export function RunView() {
  const { id = "" } = useParams();
  return <Run key={id} id={id} />;
}

function Run({ id }: { id: string }) {
  const { t } = useTranslation();
  useAwake();
  const manner = useManner();
  const { run, act, says, moved, trouble, waiting, error, retry } = useRun(id);
  if (!run) {
    return <Page>{error ? <Trouble error={error} onRetry={() => retry()} /> : <Loading />}</Page>;
  }
  const step = stepOf(run);
  return (
    <div className={`frame ${styles.run}`} data-run={run.ended ? "ended" : run.left ? "left" : "going"}>
      <PadPlate run={run} />
      <main className={styles["run-main"]} id="page">
        <header className={styles.proc}>
          <div>
            <h1>{run.name}</h1>
            {step && (
              <span className="of">{t("run.stepOf", { n: placeOf(run, step.id), of: run.script.steps.length })}</span>
            )}
          </div>
          <div>
            <Link to={run.stopId ? `/stops/${run.stopId}` : `/pools/${run.poolId}`}>{run.street}</Link>
            {step && <MannerButtons {...manner} />}
          </div>
          <LaneOfSteps run={run} />
        </header>
        {moved && (
          <p className="advice" role="alert" id="run-moved">
            <StateMark mark="act" />
            <span>{moved}</span>
          </p>
        )}
        {waiting > 0 && (
          <p className={styles["run-waits"]} role="status" id="run-waits">
            {t(trouble ? "run.keptHere" : "run.sending", { count: waiting })}
          </p>
        )}
        {run.ended && <RunEnd run={run} />}
        {!run.ended && run.left && <AwayPanel run={run} act={act} waits={waiting > 0} />}
        {!run.ended && !run.left && step && (
          <StepNow key={step.id} run={run} step={step} says={says} act={act} how={manner.how} />
        )}
        {!run.ended && !run.left && step && <LeavePanel run={run} step={step} act={act} waits={waiting > 0} />}
      </main>
      <aside className={styles["run-side"]}>
        <StepsDone run={run} />
        <Fold head={t("run.cautions")} open={run.script.steps[0]?.id === run.at}>
          <ul className="care">
            {run.script.cautions.map((c) => (
              <li key={c}>
                <StateMark mark="act" size={18} />
                <span>{c}</span>
              </li>
            ))}
          </ul>
        </Fold>
      </aside>
    </div>
  );
}
