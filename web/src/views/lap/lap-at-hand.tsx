import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import type { LapView as Lap, StopView } from "../../api/client";
import { now } from "../../parts/clock";
import { clock, percent, shortDay } from "../../parts/format";
import { Float, Tool } from "../../parts/glyphs";
import { GoButton } from "../../parts/go-button";
import { Materials } from "../../parts/materials";
import { StateMark } from "../../parts/state-mark";
import { DayOrder } from "./day-order";
import { DayRule } from "./day-rule";
import styles from "./lap.module.css";

/** A day's stops in order, what is over and what is spare. */
export function LapAtHand({ lap, mine }: { lap: Lap; mine: boolean }) {
  const { t } = useTranslation();
  const spare = lap.limitMinutes - lap.minutes;
  const here = lap.stops.find((s) => s.state === "here");
  return (
    <>
      <header className="top">
        <h1>{mine ? t("lap.title") : lap.technician}</h1>
        <p className={styles.sum}>
          <b className="n">{Math.floor(lap.minutes / 60)}</b> h{" "}
          <b className="n">{String(lap.minutes % 60).padStart(2, "0")}</b>{" "}
          {t("lap.of", { h: Math.floor(lap.limitMinutes / 60), m: String(lap.limitMinutes % 60).padStart(2, "0") })}
          <span className={styles.state}>
            <StateMark mark={spare >= 0 ? "fine" : "act"} size={18} />
            {t(spare >= 0 ? "lap.spare" : "lap.over", { count: Math.abs(spare) })}
          </span>
        </p>
        <DayOrder lap={lap} />
        {here && mine && (
          <GoButton type="primary" size="large" to={`/stops/${here.id}`} id="go-on">
            {t("lap.goOn", { street: here.street })}
            <Tool name="right" />
          </GoButton>
        )}
      </header>
      <section className={styles.day}>
        <DayRule lap={lap} now={now()} />
      </section>
      <main className={styles.table} id="page">
        <div className={styles.heads} aria-hidden="true">
          <span />
          <span>{t("lap.arrive")}</span>
          <span>{t("lap.pool")}</span>
          <span>{t("lap.reason")}</span>
          <span>{t("lap.load")}</span>
          <span>{t("lap.min")}</span>
        </div>
        <ol className={styles.stops} id="stops">
          {lap.stops.map((s) => (
            <StopLine key={s.id} stop={s} />
          ))}
        </ol>
        <p className={styles["foot-note"]}>
          <span className="fig">83</span> {t("lap.keyRead")}
          <span className={styles.gap} />
          <span className="exp">64</span> {t("lap.keyExpected")}
        </p>
        {lap.van.length > 0 && (
          <section className={styles.van} aria-labelledby="van-head">
            <h2 id="van-head">{t("lap.van")}</h2>
            <Materials list={lap.van} />
          </section>
        )}
        {lap.slid.map((s) => (
          <p className="quiet" key={`${s.street}${s.name}`}>
            {t("lap.slid", { ...s, to: shortDay(new Date(s.to)) })}
          </p>
        ))}
        <p className={`${styles.files} no-print`}>
          <Button type="link" id="lap-sheet" href={`/api/v1/laps/${lap.id}/sheet.pdf`} download>
            {t("lap.sheet")}
          </Button>
          <Button type="link" onClick={() => window.print()}>
            {t("lap.print")}
          </Button>
        </p>
      </main>
    </>
  );
}

/** One stop: when, where, the one reason that matters, how loaded the filter is. */
function StopLine({ stop: s }: { stop: StopView }) {
  const { t } = useTranslation();
  return (
    <li className={styles.stop} data-state={s.state} aria-current={s.state === "here" || undefined}>
      <Link to={`/stops/${s.id}`} data-stop={s.position}>
        <span className={styles.float}>
          <Float state={s.state} />
          <span className="sr">{t(`stop.${s.state}`)}</span>
        </span>
        <span className={styles.at}>{clock(s.plannedAt)}</span>
        <span className={styles.pool}>
          <b>{s.street}</b>
          <span>{s.equipment}</span>
        </span>
        <span className={styles.why}>
          <b className="state-line">
            <StateMark mark={s.reason.mark} />
            {s.reason.word}
          </b>
          <span>{s.reason.detail}</span>
          {s.due.length > 0 && <span>{t("lap.due", { what: s.due.join(", ") })}</span>}
        </span>
        <span className={styles.load}>
          <span>
            {!s.measured && s.load > 1 ? (
              <span className="exp">{t("lap.loadOver")}</span>
            ) : (
              <>
                <span className={s.measured ? "fig" : "exp"}>{percent(s.load)}</span> %
              </>
            )}
          </span>
          <span className={`lbar ${s.measured ? "" : "ahead"}`}>
            <i style={{ width: `${Math.min(100, 100 * s.load)}%` }} />
          </span>
        </span>
        <span className={styles.minutes}>{s.minutes}</span>
      </Link>
    </li>
  );
}
