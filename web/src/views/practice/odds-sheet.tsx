import { Button, InputNumber } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { PracticeView } from "../../api/client";
import { Choice } from "../../parts/choice";
import { percent } from "../../parts/format";
import styles from "./practice.module.css";
import type { Do } from "./use-attempt";

/** How many faults somebody gives odds to: more is guessing. */
const rows = 4;

/** What somebody thinks it is, in odds, said before each check; what is left is something else. */
export function OddsSheet({ view, act }: { view: PracticeView; act: Do }) {
  const { t } = useTranslation();
  const [odds, setOdds] = useState<{ fault: string; percent: number }[]>([]);
  const left = 100 - odds.reduce((sum, o) => sum + o.percent, 0);
  const set = (i: number, part: Partial<(typeof odds)[number]>) =>
    setOdds(odds.map((o, k) => (k === i ? { ...o, ...part } : o)));
  const open = view.faults.filter((f) => !odds.some((o) => o.fault === f.fault));
  return (
    <section className={styles.odds} aria-labelledby="practice-odds" data-held={view.held}>
      <h2 id="practice-odds">{t(view.held ? "practice.oddsFirst" : "practice.oddsSaid")}</h2>
      {view.held && (
        <>
          <ul>
            {odds.map((o, i) => (
              <li key={o.fault}>
                <Choice
                  label={t("practice.oddsOf")}
                  value={o.fault}
                  options={[...view.faults.filter((f) => f.fault === o.fault), ...open].map((f) => ({
                    value: f.fault,
                    label: f.name,
                  }))}
                  onChange={(fault) => set(i, { fault })}
                />
                <InputNumber
                  aria-label={t("practice.oddsPercent")}
                  min={0}
                  max={100}
                  precision={0}
                  suffix="%"
                  value={o.percent}
                  onChange={(v) => set(i, { percent: v ?? 0 })}
                />
                <Button type="text" onClick={() => setOdds(odds.filter((_, k) => k !== i))}>
                  {t("practice.oddsDrop")}
                </Button>
              </li>
            ))}
          </ul>
          <p className="quiet">{t("practice.oddsLeft", { percent: percent(left / 100) })}</p>
          <div className={styles.acts}>
            {odds.length < rows && open.length > 0 && (
              <Button
                id="odds-add"
                onClick={() => setOdds([...odds, { fault: open[0].fault, percent: Math.max(0, Math.min(left, 50)) }])}
              >
                {t("practice.oddsAdd")}
              </Button>
            )}
            <Button
              type="primary"
              id="odds-say"
              disabled={left < 0}
              onClick={() =>
                act({ act: "odds", odds: Object.fromEntries(odds.map((o) => [o.fault, o.percent / 100])) })
              }
            >
              {t("practice.oddsSay")}
            </Button>
          </div>
        </>
      )}
    </section>
  );
}
