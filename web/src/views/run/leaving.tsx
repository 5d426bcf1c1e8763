import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { RunView } from "../../api/client";
import { placeOf, type ScriptStep } from "../../kept/follow";
import { clock, day } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";
import { WordsField } from "../../parts/words-field";
import styles from "./run.module.css";
import type { Do } from "./step-now";

interface Props {
  run: RunView;
  act: Do;
  waits: boolean;
}

/** The way out, the step back, and the note: at the foot of every step. */
export function LeavePanel({ run, step, act, waits }: Props & { step: ScriptStep }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState<"" | "leave" | "back" | "note">("");
  const [note, setNote] = useState("");
  const toggle = (what: typeof open) => setOpen(open === what ? "" : what);
  return (
    <footer className={styles.out}>
      {open === "leave" && (
        <div className={styles["out-panel"]} id="leave-panel">
          <h2>{t("run.leaveTitle")}</h2>
          {step.leave.length ? <Hands says={step.leave} /> : <p>{t("run.leaveAsIs")}</p>}
          <Button
            type="primary"
            size="large"
            className={styles["run-go"]}
            id="run-leave"
            onClick={() => act({ act: "leave" })}
          >
            {t(step.leave.length ? "run.leaveDone" : "run.leaveNow")}
          </Button>
        </div>
      )}
      {open === "back" && run.back && (
        <div className={styles["out-panel"]}>
          <h2>{t("run.backTitle", { n: placeOf(run, run.back.step) })}</h2>
          {run.back.says.length > 0 && <Hands says={run.back.says} />}
          <Button
            className={styles["run-go"]}
            id="run-back"
            onClick={() => {
              act({ act: "back" });
              setOpen("");
            }}
          >
            {t(run.back.says.length ? "run.backDone" : "run.backNow")}
          </Button>
        </div>
      )}
      {open === "note" && (
        <form
          className={styles["out-panel"]}
          onSubmit={(e) => {
            e.preventDefault();
            if (note.trim()) act({ act: "note", note });
            setNote("");
            setOpen("");
          }}
        >
          <WordsField id="run-note" label={t("run.note")} lines={3} max={1000} value={note} onChange={setNote} />
          <Button htmlType="submit" className={styles["run-go"]}>
            {t("run.noteKeep")}
          </Button>
        </form>
      )}
      <div className={styles["out-row"]}>
        <Button
          className={styles["stop-btn"]}
          id="must-stop"
          aria-expanded={open === "leave"}
          onClick={() => toggle("leave")}
        >
          <StateMark mark="stop" size={20} />
          {t("run.mustStop")}
        </Button>
        <Button
          type="link"
          aria-expanded={open === "back"}
          disabled={!run.back || waits}
          onClick={() => toggle("back")}
        >
          {t("run.back")}
        </Button>
        <Button type="link" aria-expanded={open === "note"} onClick={() => toggle("note")}>
          {t("run.noteOpen")}
        </Button>
      </div>
    </footer>
  );
}

function Hands({ says }: { says: string[] }) {
  return (
    <ol className={styles.hands}>
      {says.map((s) => (
        <li key={s}>{s}</li>
      ))}
    </ol>
  );
}

/** A run that was left: how it stands, and how it goes on. */
export function AwayPanel({ run, act, waits }: Props) {
  const { t } = useTranslation();
  const [sure, setSure] = useState(false);
  return (
    <section className={`${styles.now} ${styles.away}`} aria-labelledby="away-head">
      <h2 className={styles.ask} id="away-head">
        {t("run.leftAt", { day: day(run.left ?? run.startedAt), at: clock(run.left ?? run.startedAt) })}
      </h2>
      <p className={styles.hint}>{t("run.leftLook")}</p>
      {run.resume ? (
        <>
          <h3>{t("run.resumeTitle", { n: placeOf(run, run.resume.step) })}</h3>
          {run.resume.says.length > 0 && <Hands says={run.resume.says} />}
          <Button
            type="primary"
            size="large"
            className={styles["run-go"]}
            id="run-resume"
            disabled={waits}
            onClick={() => act({ act: "resume" })}
          >
            {t(run.resume.says.length ? "run.resumeDone" : "run.resumeNow")}
          </Button>
        </>
      ) : (
        <p className="quiet">{t("run.resumeWaits")}</p>
      )}
      <Button type="link" id="run-end" disabled={waits} onClick={() => (sure ? act({ act: "end" }) : setSure(true))}>
        {t(sure ? "run.endSure" : "run.end")}
      </Button>
    </section>
  );
}
