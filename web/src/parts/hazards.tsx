import type { PathsView } from "../api/client";
import { StateMark } from "./state-mark";

/** Dangers in words; one that must stop the hand stands as a full-width bar. */
export function Hazards({ hazards }: { hazards: PathsView["hazards"] }) {
  return (
    <div className="hazards" aria-live="polite">
      {hazards.map((h) => (
        <p key={h.id} className={h.mark === "stop" ? "danger" : `hazard ${h.mark}`} data-hazard={h.id}>
          <StateMark mark={h.mark} size={h.mark === "stop" ? 24 : 18} />
          <span>
            <b>{h.what}.</b> {h.says}
          </span>
        </p>
      ))}
    </div>
  );
}
