import { useTranslation } from "react-i18next";
import type { Verdict } from "../api/client";
import { clock } from "./format";
import { StateMark } from "./state-mark";

/** What is not as in daily use at a stop: it goes with the stop until somebody puts it back. */
export function OpenStates({ stop }: { stop: Verdict["stop"] | undefined }) {
  const { t } = useTranslation();
  if (!stop?.open.length) return null;
  return (
    <section id="open-states" aria-label={t("openStates.title")}>
      {stop.open.map((o) => (
        <p key={o.part} className="advice" data-open={o.part}>
          <StateMark mark="open" size={18} />
          <span>
            <b>{o.says}</b>{" "}
            {o.at && !o.at.startsWith("0001") && (
              <span className="quiet">{[o.by, clock(o.at)].filter(Boolean).join(", ")}</span>
            )}
          </span>
        </p>
      ))}
    </section>
  );
}
