import { useState } from "react";
import { useTranslation } from "react-i18next";
import { figure } from "./format";
import { Tool } from "./glyphs";

export type PumpState = "running" | "off" | "unknown";

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
    <section className={`pump ${state}`} aria-label={t("pump.label")}>
      <Tool name={glyph[state]} size={52} className="state-glyph" />
      <strong className="pump-state">
        <span>{t("pump.pump")}</span> {t(`pump.${state}`)}
      </strong>
      {state !== "unknown" && (
        <span className="pump-speed">
          {state === "running" && rpm ? (
            <>
              <span className="at">{t("pump.at")} </span>
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
      <button type="button" className="pump-say" aria-expanded={open} onClick={() => setOpen(!open)}>
        {t(state === "unknown" ? "pump.say" : "pump.change")}
      </button>
      {open && (
        <fieldset className="pump-choice">
          <legend className="sr">{t("pump.label")}</legend>
          {(["running", "off", "unknown"] as const).map((s) => (
            <button
              key={s}
              type="button"
              aria-pressed={s === state}
              onClick={() => {
                onState(s);
                setOpen(false);
              }}
            >
              {t(`pump.${s}`)}
            </button>
          ))}
        </fieldset>
      )}
      <svg className="flow" aria-hidden="true" preserveAspectRatio="xMinYMid slice" viewBox="0 0 336 10">
        <path d={Array.from({ length: 15 }, (_, i) => `M${24 * i - 24} 0l8 5-8 5`).join("")} />
      </svg>
    </section>
  );
}
