import { useTranslation } from "react-i18next";
import { now } from "../parts/clock";
import { longDay } from "../parts/format";
import { useMe } from "./me";
import styles from "./print-line.module.css";

/** What a printed page carries beside what it says: whose, by whom, when. */
export function PrintLine() {
  const { t } = useTranslation();
  const me = useMe();
  return (
    <p className={styles.line} aria-hidden="true">
      {t("print.line", { company: me.company, who: me.name, at: longDay(now()) })}
    </p>
  );
}
