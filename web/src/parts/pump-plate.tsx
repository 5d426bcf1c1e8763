import { Button, Segmented } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { figure } from "./format";
import { Tool } from "./glyphs";
import styles from "./pump-plate.module.css";

export type PumpState = "running" | "off" | "unknown";

const states: PumpState[] = ["running", "off", "unknown"];

const glyph: Record<PumpState, string> = { running: "impeller", off: "off", unknown: "unknown" };

/** The pump's state, always in sight. It says what the technician said; unknown counts as running. */
export function PumpPlate({
  state,
  rpm,
  onState,
}: {
  state: PumpState;
  rpm: number | null;
  onState: (s: PumpState) => void;
}) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  return (
    <section className={`pump ${state}`} aria-label={t("pump.label")} data-pump={state}>
      <Tool name={glyph[state]} size={52} className="state-glyph" />
      <strong className="pump-state">
        <span>{t("pump.pump")}</span> {t(`pump.${state}`)}
      </strong>
      {state !== "unknown" && (
        <span className={styles["pump-speed"]}>
          {state === "running" && rpm ? (
            <>
              <span className={styles.at}>{t("pump.at")} </span>
              <span className="n">{figure(rpm, "rpm")}</span> rpm
            </>
          ) : (
            t(`pump.${state}Line`)
          )}
        </span>
      )}
      <span className="pump-lock">
        {state !== "off" && <i className="sq" />}
        {t(`pump.${state}Lock`)}
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
