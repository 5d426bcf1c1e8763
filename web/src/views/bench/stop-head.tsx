import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Bench } from "../../api/client";
import { now } from "../../parts/clock";
import { clock, daysBetween, longDay, measured } from "../../parts/format";
import { Tool } from "../../parts/glyphs";
import { GoButton } from "../../parts/go-button";
import { overLater } from "../../parts/later";
import { StateMark } from "../../parts/state-mark";
import { whereHref } from "../../parts/where";
import styles from "./stop-head.module.css";

const StopPhotos = overLater(() => import("./stop-photos"));

/** Whose pad it is, how to get in, and the ways to whatever else is asked for at a gate. */
export function StopHead({ bench }: { bench: Bench }) {
  const { t } = useTranslation();
  const [photos, setPhotos] = useState(false);
  const p = bench.pool;
  const where = whereHref(p);
  return (
    <header className={styles.head}>
      <div className={styles.name}>
        <h1>{p.street}</h1>
        <span className="quiet">
          {t("bench.stopOf", { n: bench.position, of: bench.of })}
          <span className={styles.wide}>, {t("bench.planned", { at: clock(bench.plannedAt) })}</span>
        </span>
      </div>
      <p className={styles.facts}>
        <span>{measured(Math.round(p.gallons / 100) * 100, "gal")}</span>
        <span>{p.equipment}</span>
        <span>
          {p.lastCleaned ? t("bench.cleaned", { count: daysBetween(p.lastCleaned, now()) }) : t("bench.neverCleaned")}
        </span>
        {p.cleanLineAt && <span className={styles.wide}>{t("bench.cleanLine", { at: longDay(p.cleanLineAt) })}</span>}
        {bench.open && (
          <span className={styles.open}>
            <StateMark mark="open" /> {t("bench.leftOpen", { name: bench.open })}
          </span>
        )}
      </p>
      {p.accessNote && (
        <p className={styles.gate}>
          <Tool name="gate" size={18} />
          <span>{p.accessNote}</span>
        </p>
      )}
      <nav className={styles.doors} aria-label={t("bench.doors")}>
        {bench.phone && (
          <Button
            size="small"
            href={`tel:${bench.phone.replace(/[^\d+]/g, "")}`}
            aria-label={`${t("bench.call")} ${bench.phone}`}
          >
            <Tool name="phone" /> {t("bench.call")}
          </Button>
        )}
        {where && (
          <Button size="small" className="where" href={where}>
            <Tool name="map" /> {t("bench.where")}
          </Button>
        )}
        <Button size="small" id="stop-photos" onClick={() => setPhotos(true)}>
          <Tool name="picture" /> {t("bench.photos")}
        </Button>
        <GoButton size="small" id="to-paths" to={`/pools/${p.id}/paths?stop=${bench.stopId}`}>
          {t("pages.paths")}
        </GoButton>
        <GoButton size="small" id="to-record" to={`/pools/${p.id}`}>
          {t("bench.record")}
        </GoButton>
      </nav>
      <StopPhotos pool={p.id} open={photos} onClose={() => setPhotos(false)} />
    </header>
  );
}
