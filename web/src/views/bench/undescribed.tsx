import { useTranslation } from "react-i18next";
import type { Bench } from "../../api/client";
import { GoButton } from "../../parts/go-button";
import { StateMark } from "../../parts/state-mark";
import styles from "./bench.module.css";

/** A stop at a pad that nobody has described: the visit is logged as any other, and this is the door to the rest. */
export function Undescribed({ bench }: { bench: Bench }) {
  const { t } = useTranslation();
  return (
    <section className={styles.undescribed} id="undescribed">
      <p className="state-line">
        <StateMark mark="open" size={20} />
        <b>{t("bench.undescribed")}</b>
      </p>
      <p>{t("bench.undescribedWhat")}</p>
      <GoButton type="primary" size="large" id="describe-pad" to={`/pools/${bench.pool.id}/pad`}>
        {t("bench.describe")}
      </GoButton>
    </section>
  );
}
