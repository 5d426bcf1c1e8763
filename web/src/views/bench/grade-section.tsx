import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { Bench, Verdict } from "../../api/client";
import { partLater } from "../../parts/later";
import { Term } from "../../parts/term";
import styles from "./bench.module.css";

const GradeLine = partLater(() => import("../../parts/grade-line"), 8);

/** The pressure along the water's path, as a line or as a table. */
export function GradeSection({ bench, verdict }: { bench: Bench; verdict: Verdict | undefined }) {
  const { t } = useTranslation();
  const [table, setTable] = useState(false);
  return (
    <section className={`sec ${styles["sec-grade"]}`} aria-labelledby="grade-head">
      <div className="sec-head">
        <h2 id="grade-head">{t("grade.title")}</h2>
        <Term name="grade" />
        <GradeKey />
        {verdict?.grade && (
          <Button type="link" size="small" id="as-table" aria-pressed={table} onClick={() => setTable(!table)}>
            {t(table ? "grade.asLine" : "grade.asTable")}
          </Button>
        )}
      </div>
      {verdict?.grade ? (
        <GradeLine
          grade={verdict.grade}
          reading={verdict.readings[0]}
          suctionWords={bench.pad.suctionWords}
          table={table}
        />
      ) : (
        <p className="empty">{t("grade.empty")}</p>
      )}
    </section>
  );
}

function GradeKey() {
  const { t } = useTranslation();
  return (
    <ul className={styles.key}>
      <li>
        <svg width="34" height="10" aria-hidden="true">
          <path className="expected" d="M0 5h34" />
        </svg>
        {t("grade.keyClean")}
      </li>
      <li>
        <svg width="34" height="10" aria-hidden="true">
          <path className="measured" d="M0 5h34" />
        </svg>
        {t("grade.keyToday")}
      </li>
      <li>
        <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true">
          <path className="gauge" d="M8 1.5 14.5 8 8 14.5 1.5 8Z" />
        </svg>
        {t("grade.keyGauge")}
      </li>
    </ul>
  );
}
