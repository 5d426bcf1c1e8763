import { useTranslation } from "react-i18next";
import type { LimitsView } from "../api/client";
import { figure } from "./format";
import styles from "./limit-windows.module.css";
import { StateMark } from "./state-mark";

/** The speeds that keep every limit of a job, or the two limits that leave none. */
export function LimitWindows({ limits }: { limits: LimitsView }) {
  const { t } = useTranslation();
  const span = (low: number, top: number) => t("limits.span", { low: figure(low, "rpm"), top: figure(top, "rpm") });
  const named = (w: LimitsView["windows"][number], pair: "collide" | "advised") =>
    w.collide.length === 2
      ? t(`limits.${pair}`, { a: w.collide[0], b: w.collide[1] })
      : t("limits.outOfReach", { a: w.collide[0] ?? "" });
  return (
    <ul className={styles.windows}>
      {limits.windows.map((w) => (
        <li key={w.job} data-window={w.job}>
          <StateMark mark={w.strictEmpty ? "stop" : w.empty ? "act" : "fine"} size={18} />
          <span>
            <b>{t(`limits.job.${w.job}`)}</b> {w.strictEmpty && named(w, "collide")}
            {!w.empty && span(w.low, w.top)}
            {w.empty && !w.strictEmpty && (
              <>
                {span(w.strictLow, w.strictTop)} <span className="quiet">{named(w, "advised")}</span>
              </>
            )}
          </span>
        </li>
      ))}
    </ul>
  );
}
