import { Button } from "antd";
import { useTranslation } from "react-i18next";
import type { Verdict } from "../../api/client";
import { StateMark } from "../../parts/state-mark";
import { markOf } from "../../parts/verdict-mark";
import styles from "./one-line.module.css";

/** The answer in one line: what it is, and what to do about it; each opens to its reasons. */
export function OneLine({ verdict, onOpen }: { verdict: Verdict; onOpen: (what: "suspects" | "clean") => void }) {
  const { t } = useTranslation();
  return (
    <section
      className={styles.line}
      aria-label={t("bench.oneLine")}
      data-state={verdict.state}
      data-advice={verdict.advice.action}
      id="one-line"
    >
      <StateMark mark={markOf(verdict)} size={20} />
      <b>{verdict.says}</b>
      <span className={styles.whys}>
        <Button type="link" size="small" id="why-suspects" onClick={() => onOpen("suspects")}>
          {t("bench.whyThis")}
        </Button>
        <Button type="link" size="small" id="why-clean" onClick={() => onOpen("clean")}>
          {t("bench.whyClean")}
        </Button>
      </span>
    </section>
  );
}
