import type { ReactNode } from "react";
import { useTranslation } from "react-i18next";
import type { Verdict } from "../../api/client";
import { chance, percent } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";
import styles from "./bench.module.css";

/** What was seen wrong, what nothing explains, and what the last work at this stop changed. */
export function Found({ verdict: v, mend }: { verdict: Verdict; mend: (sign: string) => ReactNode }) {
  const { t } = useTranslation();
  if (!v.found.length && !v.unexplained.length && !v.changed) return null;
  return (
    <section className="sec" id="found" aria-labelledby="found-head">
      {v.changed && (
        <p className={styles.changed} data-changed={v.changed.tooShort ? "short" : "done"}>
          <StateMark mark={v.changed.tooShort ? "act" : "fine"} size={18} />
          <span>
            <b>{t("found.after", { work: v.changed.work })}</b> {v.changed.tooShort && <>{t("found.tooShort")} </>}
            {t("found.was", {
              was: v.changed.was.map((w) => `${w.name} ${chance(w.p)} %`).join(", "),
              load: percent(Math.max(0, v.changed.wasLoad)),
            })}
          </span>
        </p>
      )}
      {v.found.length > 0 && <h2 id="found-head">{t("found.title")}</h2>}
      <ul className={styles.found}>
        {v.found.map((f) => (
          <li key={f.sign} data-found={f.sign}>
            <StateMark mark="act" size={18} />
            <span>
              <b>{f.name}.</b> {f.mend} {f.says}
              {mend(f.sign)}
            </span>
          </li>
        ))}
      </ul>
      {v.unexplained.length > 0 && (
        <p className="advice" data-unexplained={v.unexplained.length}>
          <StateMark mark="open" size={18} />
          <span>{t("found.unexplained", { names: v.unexplained.join(", ") })}</span>
        </p>
      )}
    </section>
  );
}
