import { useTranslation } from "react-i18next";
import { GoButton } from "./go-button";
import { StateMark } from "./state-mark";
import styles from "./undescribed.module.css";

/** A pad that nobody has described: visits go on as anywhere, and this is the door to the rest. */
export function Undescribed({ pool }: { pool: string }) {
  const { t } = useTranslation();
  return (
    <section className={styles.undescribed} id="undescribed">
      <p className="state-line">
        <StateMark mark="open" size={20} />
        <b>{t("bench.undescribed")}</b>
      </p>
      <p>{t("bench.undescribedWhat")}</p>
      <GoButton type="primary" size="large" id="describe-pad" to={`/pools/${pool}/pad`}>
        {t("bench.describe")}
      </GoButton>
    </section>
  );
}
