import { useTranslation } from "react-i18next";
import type { PracticeView } from "../../api/client";
import { figure } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";
import styles from "./practice.module.css";

/** What was done so far, newest first. */
export function Steps({ steps, harms }: Pick<PracticeView, "steps" | "harms">) {
  const { t } = useTranslation();
  if (steps.length === 0) return <p className="empty">{t("practice.noSteps")}</p>;
  return (
    <ol className={styles.steps} id="practice-steps" reversed>
      {steps
        .map((s, turn) => ({ ...s, turn }))
        .reverse()
        .map((s) => (
          <li key={s.turn} data-step={s.act}>
            <span className="n">{figure(s.minutes, "min")}</span>
            <span>
              {harms.some((h) => h.turn === s.turn) && <StateMark mark="stop" />} <b>{s.did}</b> {s.told.join(" ")}
            </span>
          </li>
        ))}
    </ol>
  );
}
