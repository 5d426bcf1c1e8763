import { useTranslation } from "react-i18next";
import type { ScriptStep } from "../../kept/follow";
import styles from "./run.module.css";

export function clockOf(seconds: number): string {
  const s = Math.floor(seconds);
  const minutes = Math.floor(s / 60);
  const rest = String(s % 60).padStart(2, "0");
  return minutes >= 60
    ? `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, "0")}:${rest}`
    : `${minutes}:${rest}`;
}

/** A span of time as words: "2 to 3 min", "10 to 15 s"; "5.7 min" where both ends say the same. */
function span(low: number, high: number, t: (k: string, v: Record<string, unknown>) => string): string {
  const unit = high >= 5400 ? "h" : high >= 100 ? "min" : "s";
  const by = { h: 3600, min: 60, s: 1 }[unit];
  const n = (v: number) => String(Math.round((10 * v) / by) / 10);
  return n(low) === n(high) ? t("run.about", { n: n(low), unit }) : t("run.span", { low: n(low), high: n(high), unit });
}

/** The running time, large, over a rule that shows what is usual here. */
export function TimerFace({ timer, elapsed }: { timer: NonNullable<ScriptStep["timer"]>; elapsed: number }) {
  const { t } = useTranslation();
  const end = timer.most || timer.high * 1.5;
  const x = (s: number) => 4 + 350 * Math.min(1, s / end);
  const over = timer.most > 0 && elapsed >= timer.most;
  const says = over ? "over" : elapsed >= timer.low ? "usual" : "count";
  return (
    <div className={`${styles["timer-face"]} ${over ? "over" : ""}`}>
      <div className={styles.timer}>
        <span className={styles.clock} role="timer" aria-label={t("run.elapsed")}>
          {clockOf(elapsed)}
        </span>
        <span className={styles["clock-say"]}>{t(`run.counts.${timer.count}`)}</span>
      </div>
      <svg className={styles.timerule} viewBox="0 0 358 34" aria-hidden="true">
        <rect x="4" y="6" width="350" height="5" className={styles["rule-bed"]} />
        <path className="measured" d={`M4 8.5H${x(elapsed)}`} />
        <path className="expected" d={`M${x(timer.low)} 15v8H${x(timer.high)}v-8`} />
      </svg>
      <p className={styles["timer-says"]} role="status">
        {t(`run.${says}`, { usual: span(timer.low, timer.high, t), most: clockOf(timer.most) })}
      </p>
    </div>
  );
}
