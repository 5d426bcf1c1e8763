import { useTranslation } from "react-i18next";
import type { RunView } from "../../api/client";
import { Tool } from "../../parts/glyphs";
import styles from "./run.module.css";

/** The pad's state, pinned: what runs, what is locked, what stands open. */
export function PadPlate({ run }: { run: RunView }) {
  const { t } = useTranslation();
  const s = run.state;
  const state = s.running ? "running" : s.power === "locked" ? "locked" : "off";
  const rig = run.script.rig;
  const open = rig.suction.filter((_, i) => s.suction & (1 << i));
  const facts: [string, string, boolean][] = [];
  if (rig.valve !== "none") facts.push(["setting", t(`setting.${s.setting}`), s.setting !== "filter"]);
  facts.push(["bleed", t(s.bleed ? "runState.open" : "runState.shut"), s.bleed]);
  if (s.suction !== rig.usual) facts.push(["suction", open.length ? open.join(", ") : t("runState.allShut"), true]);
  if (!s.returns) facts.push(["returns", t("runState.shut"), true]);
  if (s.tank) facts.push(["tank", t("runState.open"), true]);
  if (s.pot) facts.push(["pot", t("runState.open"), true]);
  if (rig.spa) {
    const apart = s.suctionTo !== s.returnTo;
    facts.push(["spa", t(apart ? "runState.apart" : `runState.to.${s.suctionTo}`), apart || s.suctionTo !== "pool"]);
  }
  if (s.bath) facts.push(["bath", t(`runState.bathOf.${s.bath}`), true]);
  return (
    <section
      className={`pump ${styles["run-plate"]} ${state === "running" ? "running" : "off"}`}
      aria-label={t("pump.label")}
    >
      <Tool name={state === "running" ? "impeller" : "off"} size={44} className="state-glyph" />
      <strong className="pump-state" id="run-pump">
        <span>{t("pump.pump")}</span> {t(`runState.${state}`)}
      </strong>
      <span className="pump-lock">
        {state !== "locked" && <i className="sq" />}
        {t(`runState.${state}Lock`)}
      </span>
      <ul className={styles["pad-facts"]}>
        {facts.map(([id, says, odd]) => (
          <li key={id} className={odd ? styles.odd : ""}>
            <span>{t(`runState.of.${id}`)}</span> <b>{says}</b>
          </li>
        ))}
      </ul>
      <svg className="flow" aria-hidden="true" preserveAspectRatio="xMinYMid slice" viewBox="0 0 336 10">
        <path d={Array.from({ length: 15 }, (_, i) => `M${24 * i - 24} 0l8 5-8 5`).join("")} />
      </svg>
    </section>
  );
}
