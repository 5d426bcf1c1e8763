import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { PracticeView } from "../../api/client";
import { Fold } from "../../parts/fold";
import { figure, money } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";
import { WordsField } from "../../parts/words-field";
import styles from "./practice.module.css";
import type { Do } from "./use-attempt";

/** Guided runs, fixes by hand, and what is left to others. */
export function Work({ view, act }: { view: PracticeView; act: Do }) {
  const { t } = useTranslation();
  const [find, setFind] = useState("");
  const letters = find.trim().toLowerCase();
  const faults = view.faults.filter((f) => !letters || f.name.toLowerCase().includes(letters));
  const helped = view.mode === "hints" || view.mode === "beside";
  return (
    <div className={styles.looks} id="practice-work">
      {!view.daily && (
        <p className="state-line">
          <StateMark mark="open" />
          <span>{view.unlike || t("practice.offNow")}</span>
          {helped && (
            <Button id="practice-restore" onClick={() => act({ act: "restore" })}>
              {t("practice.restore")}
            </Button>
          )}
        </p>
      )}
      <section aria-labelledby="practice-runs">
        <h2 id="practice-runs">{t("practice.guided")}</h2>
        <p className="quiet">{t("practice.guidedSays")}</p>
        <ul>
          {view.runs.map((r) => (
            <li key={r.run} data-run={r.run}>
              <div>
                <b>{r.name}</b>
                <span className="quiet">{r.aim}</span>
              </div>
              <Button disabled={view.held || Boolean(view.unlike)} onClick={() => act({ act: "run", run: r.run })}>
                {t("practice.look", { minutes: figure(r.minutes, "min") })}
              </Button>
            </li>
          ))}
        </ul>
      </section>
      <section aria-labelledby="practice-fixes">
        <h2 id="practice-fixes">{t("practice.byHand")}</h2>
        <WordsField id="practice-find" label={t("practice.find")} value={find} onChange={setFind} />
        <ul>
          {faults.map((f) => (
            <li key={f.fault} data-fix={f.fault}>
              <Fold head={<b>{f.name}</b>} id={`fix-${f.fault}`}>
                <div className={styles.fix}>
                  <p>{f.fix}</p>
                  {f.caution && (
                    <p className="state-line">
                      <StateMark mark="act" />
                      {f.caution}
                    </p>
                  )}
                  {f.hands && f.lacks && <p className={styles.lacks}>{f.lacks}</p>}
                  {f.hands && (
                    <Button
                      data-mend={f.fault}
                      disabled={view.held}
                      onClick={() =>
                        act(helped && f.lacks ? { act: "ready", need: f.need } : { act: "mend", fault: f.fault })
                      }
                    >
                      {helped && f.lacks
                        ? t("practice.ready")
                        : t("practice.mend", { minutes: figure(f.minutes, "min"), dollars: money(f.dollars) })}
                    </Button>
                  )}
                  <Button
                    data-refer={f.fault}
                    disabled={view.held}
                    onClick={() => act({ act: "refer", fault: f.fault })}
                  >
                    {t("practice.refer")}
                  </Button>
                </div>
              </Fold>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}
