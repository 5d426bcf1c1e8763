import { Button } from "antd";
import { useTranslation } from "react-i18next";
import type { PracticeView } from "../../api/client";
import { chance } from "../../parts/format";
import styles from "./practice.module.css";
import type { Do } from "./use-attempt";

/** The next best check and why; beside the engine its suspects too. */
export function Help({ view, act }: { view: PracticeView; act: Do }) {
  const { t } = useTranslation();
  const { hint, suspects } = view;
  if (!hint) return null;
  const { next } = hint;
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
