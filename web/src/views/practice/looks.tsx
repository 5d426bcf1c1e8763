import { Button } from "antd";
import { useTranslation } from "react-i18next";
import type { PracticeView } from "../../api/client";
import { Fold } from "../../parts/fold";
import { figure } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";
import styles from "./practice.module.css";
import type { Do } from "./use-attempt";

const places = ["pool", "pot", "pump", "filter", "paths", "danger", "since"] as const;

/** What may be looked and listened for, by where one stands; each costs its minutes. */
export function Looks({ view, act }: { view: PracticeView; act: Do }) {
  const { t } = useTranslation();
  // Where the hint points, or where one stands first.
  const open = view.looks.find((l) => l.sign === view.hint?.sign)?.where ?? places[0];
  const helped = view.mode === "hints" || view.mode === "beside";
  return (
    <div className={styles.looks} id="practice-looks">
      {places.map((where) => {
        const here = view.looks.filter((l) => l.where === where);
        if (here.length === 0) return null;
        return (
          <Fold
            key={where}
            id={`look-${where}`}
            open={where === open}
            head={
              <b>
                {t(`practice.where.${where}`)} <span className="quiet">{here.length}</span>
              </b>
            }
          >
            <ul>
              {here.map((l) => (
                <li key={l.sign} data-look={l.sign} data-answer={l.answer ?? ""}>
                  <div>
                    <b>{l.name}</b>
                    <span className="quiet">{l.look}</span>
                    {l.caution && (
                      <span className="state-line">
                        <StateMark mark="act" />
                        {l.caution}
                      </span>
                    )}
                    {l.lacks && <span className={styles.lacks}>{l.lacks}</span>}
                  </div>
                  {l.answer != null ? (
                    <span className={styles.answer} data-yes={l.answer}>
                      {t(l.answer ? "practice.yes" : "practice.no")}
                    </span>
                  ) : (
                    <Button
                      disabled={view.held}
                      onClick={() =>
                        act(
                          helped && l.lacks
                            ? l.need === "running"
                              ? { act: "restore" }
                              : { act: "ready", need: l.need }
                            : { act: "look", sign: l.sign },
                        )
                      }
                    >
                      {helped && l.lacks
                        ? t("practice.ready")
                        : t("practice.look", { minutes: figure(l.minutes, "min") })}
                    </Button>
                  )}
                </li>
              ))}
            </ul>
          </Fold>
        );
      })}
    </div>
  );
}
