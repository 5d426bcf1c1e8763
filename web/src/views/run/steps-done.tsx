import { useTranslation } from "react-i18next";
import type { RunView } from "../../api/client";
import { clock, figure, measured } from "../../parts/format";
import styles from "./run.module.css";
import { clockOf } from "./timer";

type Reading = NonNullable<RunView["done"][number]["reading"]>;

export function readingWords(r: Reading): string {
  const parts = [`${figure(r.rpm, "rpm")} rpm`];
  if (r.tankPsi != null) parts.push(`${measured(r.tankPsi, "psi")}`);
  if (r.vacuumInHg != null) parts.push(`${measured(r.vacuumInHg, "inHg")}`);
  if (r.flowGpm != null) parts.push(`${measured(r.flowGpm, "gpm")}`);
  if (r.powerW != null) parts.push(`${figure(r.powerW, "W")} W`);
  return parts.join(", ");
}

/** What was done, when, by whom: nothing is ever taken out. */
export function StepsDone({ run }: { run: RunView }) {
  const { t } = useTranslation();
  return (
    <section className={styles["steps-done"]} aria-labelledby="done-head">
      <h2 id="done-head">{t("run.doneTitle")}</h2>
      {run.done.length === 0 && <p className="quiet">{t("run.doneNone")}</p>}
      <ol>
        {run.done.map((d, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a step may be done twice, and none is ever removed
          <li key={i}>
            <span className="when">{clock(d.at)}</span>
            <span>
              {d.says}
              {d.answer && <b> {d.answer}</b>}
              {d.reading && <b className={styles.figure}> {readingWords(d.reading)}</b>}
              {d.early && <span className="quiet"> {t("run.endedSooner", { why: d.early })}</span>}
              {d.seconds > 0 && <span className="quiet"> {clockOf(d.seconds)}</span>}
              {d.by && d.by !== run.by && <span className="quiet"> {d.by}</span>}
            </span>
          </li>
        ))}
      </ol>
      {run.notes.map((n, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: notes are only added
        <p key={i} className={styles["run-noted"]}>
          {n}
        </p>
      ))}
    </section>
  );
}
