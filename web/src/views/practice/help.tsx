import { Button } from "antd";
import { useTranslation } from "react-i18next";
import type { PracticeEvent, PracticeView } from "../../api/client";
import { chance } from "../../parts/format";
import styles from "./practice.module.css";
import type { Do } from "./use-attempt";

type Hint = NonNullable<PracticeView["hint"]>;

/** The next best check and why; beside the engine its suspects too. */
export function Help({ view, act }: { view: PracticeView; act: Do }) {
  const { t } = useTranslation();
  const { hint, suspects } = view;
  if (!hint) return null;
  const next = nextOf(hint, view);
  return (
    <aside className={styles.help} id="practice-hint" data-sign={hint.sign} data-fault={hint.fault}>
      <p>
        <b>{hint.says}</b> <span className="quiet">{hint.why}</span>
      </p>
      {next && (
        <Button id="practice-follow" onClick={() => act(next)}>
          {t("practice.follow")}
        </Button>
      )}
      {suspects.length > 0 && (
        <ol className={styles.suspects} aria-label={t("practice.suspects")}>
          {suspects.map((s) => (
            <li key={s.fault + s.name + s.place} data-suspect={s.fault}>
              <span>
                <b>{s.name}</b> {s.place}
              </span>
              <span className="s-p">{chance(s.p)} %</span>
              <span className="quiet">{s.for[0]}</span>
            </li>
          ))}
        </ol>
      )}
    </aside>
  );
}

/** What does the hint's next piece: the pad is stood ready first where it has to be. */
function nextOf(hint: Hint, view: PracticeView): PracticeEvent | null {
  if (hint.sign) {
    const look = view.looks.find((l) => l.sign === hint.sign);
    if (!look) return null;
    if (!look.lacks) return { act: "look", sign: hint.sign };
    return look.need === "running" ? { act: "restore" } : { act: "ready", need: look.need };
  }
  if (hint.fault) {
    if (hint.refer) return { act: "refer", fault: hint.fault };
    if (hint.run) return view.unlike ? { act: "restore" } : { act: "run", run: hint.run };
    const fix = view.faults.find((f) => f.fault === hint.fault);
    if (!fix?.hands) return null;
    return fix.lacks ? { act: "ready", need: fix.need } : { act: "mend", fault: hint.fault };
  }
  if (hint.read) return { act: "read" };
  return null;
}
