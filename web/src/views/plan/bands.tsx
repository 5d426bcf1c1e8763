import { useTranslation } from "react-i18next";
import type { PlanView as Plan } from "../../api/client";
import { Fold } from "../../parts/fold";
import { figure } from "../../parts/format";
import styles from "./plan.module.css";

/** The speeds that each job allows, as a band, with the reason at each edge. */
export function Bands({ view }: { view: Plan }) {
  const { t } = useTranslation();
  const x = (rpm: number) => `${Math.min(100, (100 * rpm) / (view.topRpm + 50))}%`;
  return (
    <section className="bands" aria-labelledby="bands-head">
      <h2 id="bands-head">{t("plan.windows")}</h2>
      {view.windows.map((w) => (
        <div key={w.job} data-job={w.job}>
          <Fold
            head={
              <span className={styles["band-row"]}>
                <span className="band-name">{t(`plan.jobs.${w.job}`)}</span>
                <span className={styles["band-track"]}>
                  {!w.empty && <i style={{ left: x(w.low), right: `calc(100% - ${x(w.top)})` }} />}
                </span>
                <span className="n">
                  {w.empty ? t("plan.noSpeed") : `${figure(w.low, "rpm")}–${figure(w.top, "rpm")}`}
                </span>
              </span>
            }
          >
            <p>
              {t("plan.from")} {w.lowWhy}
            </p>
            <p>
              {t("plan.to")} {w.topWhy}
            </p>
          </Fold>
        </div>
      ))}
    </section>
  );
}
