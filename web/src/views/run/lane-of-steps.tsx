import { useTranslation } from "react-i18next";
import type { RunView } from "../../api/client";
import { placeOf } from "../../kept/follow";
import styles from "./run.module.css";

/** The steps as floats on a lane line: behind, here, ahead. */
export function LaneOfSteps({ run }: { run: RunView }) {
  const { t } = useTranslation();
  const n = run.script.steps.length;
  const here = run.at ? placeOf(run, run.at) : n + 1;
  const gap = 346 / n;
  const x = (i: number) => 6 + gap * (i + 0.5);
  const w = Math.min(22, gap * 0.62);
  return (
    <svg
      className={styles.steplane}
      viewBox="0 0 358 30"
      role="img"
      aria-label={t("run.stepOf", { n: Math.min(here, n), of: n })}
    >
      <path className={styles["lane-done"]} d={`M6 15H${here > n ? 352 : x(here - 1)}`} />
      {here <= n && <path className={styles["lane-ahead"]} d={`M${x(here - 1)} 15H352`} />}
      {run.script.steps.map((s, i) =>
        i + 1 === here ? (
          <g key={s.id} className={styles["float-here"]}>
            <path d={`M${x(i) - 13} 3h16l10 12-10 12h-16Z`} />
            <text x={x(i) - 2} y="20" textAnchor="middle">
              {here}
            </text>
          </g>
        ) : (
          <rect
            key={s.id}
            className={i + 1 < here ? styles["float-done"] : styles["float-ahead"]}
            x={x(i) - w / 2}
            y="9"
            width={w}
            height="12"
            rx={Math.min(5, w / 3)}
          />
        ),
      )}
    </svg>
  );
}
