import { useTranslation } from "react-i18next";
import type { LimitsView } from "../api/client";
import { figure } from "./format";
import { StateMark } from "./state-mark";

/** The speeds that keep every limit of a job, or the two limits that leave none. */
export function LimitWindows({ limits }: { limits: LimitsView }) {
  const { t } = useTranslation();
  const span = (low: number, top: number) => t("limits.span", { low: figure(low, "rpm"), top: figure(top, "rpm") });
  return (
    <ul className="windows">
      {limits.windows.map((w) => (
        <li key={w.job} data-window={w.job}>
          <StateMark mark={w.strictEmpty ? "stop" : w.empty ? "act" : "fine"} size={18} />
          <span>
            <b>{t(`limits.job.${w.job}`)}</b>{" "}
            {w.empty
              ? w.collide.length === 2
                ? t("limits.collide", { a: w.collide[0], b: w.collide[1] })
                : t("limits.outOfReach", { a: w.collide[0] ?? "" })
              : span(w.low, w.top)}{" "}
            {w.empty && !w.strictEmpty && t("limits.strict", { span: span(w.strictLow, w.strictTop) })}
          </span>
        </li>
      ))}
    </ul>
  );
}
