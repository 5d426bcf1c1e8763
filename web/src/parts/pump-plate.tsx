import { Button, Segmented } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Verdict } from "../api/client";
import { figure } from "./format";
import { Tool } from "./glyphs";
import styles from "./pump-plate.module.css";

type Stop = Verdict["stop"];
export type PumpState = Stop["pump"];

const states: PumpState[] = ["running", "off", "locked", "unknown"];

const glyph: Record<PumpState, string> = { running: "impeller", off: "off", locked: "off", unknown: "unknown" };

/** The pump's state, always in sight: as somebody said, read or made it at this stop. Unknown counts as running. */
export function PumpPlate({ stop, onState }: { stop: Stop | undefined; onState: (s: PumpState) => void }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  const state = stop?.pump ?? "unknown";
  const still = state === "off" || state === "locked";
  return (
    <section className={`pump ${still ? "off" : state}`} aria-label={t("pump.label")} data-pump={state}>
      <Tool name={glyph[state]} size={52} className="state-glyph" />
      <strong className="pump-state">
        <span>{t("pump.pump")}</span> {t(`pump.${state}`)}
      </strong>
      {state !== "unknown" && (
        <span className={styles["pump-speed"]}>
          {state === "running" && stop && stop.rpm > 0 ? (
            <>
              <span className={styles.at}>{t("pump.at")} </span>
              <span className="n">{figure(stop.rpm, "rpm")}</span> rpm
              {stop.program && <span className={styles.program}> {t("pump.byProgram")}</span>}
            </>
          ) : (
            t(`pump.${state}Line`)
          )}
        </span>
      )}
      <span className="pump-lock">
        {!still && <i className="sq" />}
        {t(`pump.${state}Lock`)}
        {still && stop?.says && <span className={styles.who}> {stop.says}</span>}
      </span>
      <Button
        type="text"
        className={styles["pump-say"]}
        id="pump-say"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        {t(state === "unknown" ? "pump.say" : "pump.change")}
      </Button>
      {open && (
        <div className={styles["pump-choice"]}>
          <Segmented
            block
            size="large"
            aria-label={t("pump.label")}
            value={state}
            options={states.map((s) => ({ value: s, label: <span data-say={s}>{t(`pump.${s}`)}</span> }))}
            onChange={(s) => {
              onState(s);
              setOpen(false);
            }}
          />
        </div>
      )}
      <svg className="flow" aria-hidden="true" preserveAspectRatio="xMinYMid slice" viewBox="0 0 336 10">
        <path d={Array.from({ length: 15 }, (_, i) => `M${24 * i - 24} 0l8 5-8 5`).join("")} />
      </svg>
    </section>
  );
}
