import { Button } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import type { RunEvent, RunView } from "../../api/client";
import type { ScriptStep, StepOption } from "../../kept/follow";
import { StateMark } from "../../parts/state-mark";
import { EarlyEnd } from "./early-end";
import { Glass } from "./glass";
import type { Manner } from "./manner";
import { ReadingForm } from "./reading-form";
import styles from "./run.module.css";
import { clockOf, TimerFace } from "./timer";
import { useAlarm, useElapsed } from "./use-timer";

export type Do = (event: Omit<RunEvent, "id" | "turn" | "at">) => void;

interface Props {
  run: RunView;
  step: ScriptStep;
  says: Record<string, string>;
  act: Do;
  how: Manner;
}

export function StepNow({ run, step, says, act, how }: Props) {
  const { t } = useTranslation();
  const started = run.timers[step.id];
  const elapsed = useElapsed(started);
  useAlarm(step.timer, elapsed, how.quiet);
  // A drain test starts when the hand tips the element; every other count starts with its step.
  const byHand = step.timer?.count === "drain";
  // biome-ignore lint/correctness/useExhaustiveDependencies: once a step
  useEffect(() => {
    if (step.timer && !byHand && !started) act({ act: "timer", step: step.id });
  }, []);
  useEffect(() => {
    if (!how.aloud || !("speechSynthesis" in window)) return;
    speechSynthesis.cancel();
    speechSynthesis.speak(new SpeechSynthesisUtterance([...step.care, step.says, step.hint].join(". ")));
    return () => speechSynthesis.cancel();
  }, [how.aloud, step]);
  const [why, setWhy] = useState("");
  const bound = Boolean(step.timer?.least) && (elapsed ?? 0) < (step.timer?.least ?? 0);
  const goesOn = (o: StepOption) => !o.ends && o.to !== step.id && !o.settles;
  const go = (o: StepOption) =>
    act({ act: "go", step: step.id, option: o.id, note: bound && goesOn(o) ? why.trim() : undefined });
  const waits = (o: StepOption) => bound && goesOn(o) && !why.trim();
  const at = run.script.steps.findIndex((s) => s.id === step.id);
  const then = run.script.steps[at + 1];
  return (
    <section className={`${styles.now} now-${step.kind}`} aria-labelledby="step-head" data-step={step.id}>
      {step.care.length > 0 && (
        <ul className="care">
          {step.care.map((c) => (
            <li key={c}>
              <StateMark mark="act" size={18} />
              <span>{c}</span>
            </li>
          ))}
        </ul>
      )}
      {step.timer && elapsed !== undefined && <TimerFace timer={step.timer} elapsed={elapsed} />}
      {step.kind !== "interlock" && (
        <h2 className={styles.ask} id="step-head">
          {step.says}
        </h2>
      )}
      {step.kind !== "interlock" && step.hint && <p className={styles.hint}>{step.hint}</p>}
      {step.kind !== "interlock" && step.why && <p className="quiet">{step.why}</p>}
      {step.recalls && <Recalled run={run} count={step.recalls} />}
      {step.kind === "interlock" && <Interlock step={step} onGo={go} />}
      {step.kind === "reading" && (
        <ReadingForm
          run={run}
          step={step.id}
          says={says}
          onRead={(reading) => act({ act: "go", step: step.id, option: step.options[0].id, reading })}
        />
      )}
      {step.timer && byHand && !started && (
        <Button
          type="primary"
          size="large"
          className={styles["run-go"]}
          id="run-timer"
          onClick={() => act({ act: "timer", step: step.id })}
        >
          {t("run.startTimer")}
        </Button>
      )}
      {(step.kind === "action" || step.kind === "look" || step.kind === "timer") && !(byHand && !started) && (
        <Answers step={step} onGo={go} waits={waits} />
      )}
      {bound && !(byHand && !started) && (
        <EarlyEnd timer={step.timer} elapsed={elapsed ?? 0} why={why} onWhy={setWhy} />
      )}
      {then?.kind === "interlock" && (
        <p className={styles.then}>
          <StateMark mark="stop" size={18} />
          <span>
            {t("run.then", { n: at + 2 })} <b>{then.says}</b>
          </span>
        </p>
      )}
    </section>
  );
}

/** What was timed so far, beside the question that stands on it. */
function Recalled({ run, count }: { run: RunView; count: string }) {
  const counted = new Set(run.script.steps.filter((s) => s.timer?.count === count).map((s) => s.id));
  return (
    <dl className={styles["run-facts"]} id="run-recalls">
      {run.done
        .filter((d) => counted.has(d.step) && d.seconds > 0)
        .map((d) => (
          <div key={d.at}>
            <dt>{d.says.split(":")[0]}</dt>
            <dd>{clockOf(d.seconds)}</dd>
          </div>
        ))}
    </dl>
  );
}

/** What must be so before the hand goes on: nothing else is on the way. */
function Interlock({ step, onGo }: { step: ScriptStep; onGo: (o: StepOption) => void }) {
  const { t } = useTranslation();
  return (
    <div className={styles.lock}>
      <p className={styles["lock-say"]}>
        <StateMark mark="stop" size={22} />
        <span>
          <b id="step-head">{step.says}</b>
          {step.why && <small>{step.why}</small>}
        </span>
      </p>
      {step.hint && <p className={styles.hint}>{step.hint}</p>}
      <Button
        type="primary"
        size="large"
        className={styles["lock-btn"]}
        id="run-confirm"
        onClick={() => onGo(step.options[0])}
      >
        {t("run.confirm")}
      </Button>
    </div>
  );
}

interface AnswersProps {
  step: ScriptStep;
  onGo: (o: StepOption) => void;
  /** An answer that must wait for its time, or for a reason. */
  waits: (o: StepOption) => boolean;
}

function Answers({ step, onGo, waits }: AnswersProps) {
  const { t } = useTranslation();
  if (step.options.length === 1) {
    const o = step.options[0];
    return (
      <Button
        type="primary"
        size="large"
        className={styles["run-go"]}
        data-option={o.id}
        disabled={waits(o)}
        onClick={() => onGo(o)}
      >
        {o.says || t("run.done")}
      </Button>
    );
  }
  const last = step.options.findLast((o) => !o.ends);
  return (
    <div className={styles.answers}>
      {step.options.map((o) => (
        <button
          key={o.id}
          type="button"
          className={`${styles["ans-btn"]} ${o.ends ? styles.ends : ""} ${o.id === last?.id ? styles.chief : ""}`}
          data-option={o.id}
          disabled={waits(o)}
          onClick={() => onGo(o)}
        >
          <Glass state={o.glass} />
          {o.ends && <StateMark mark="stop" size={18} />}
          <span>{o.says}</span>
        </button>
      ))}
    </div>
  );
}
