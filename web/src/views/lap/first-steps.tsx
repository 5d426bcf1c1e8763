import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api } from "../../api/client";
import { GoButton } from "../../parts/go-button";
import styles from "./lap.module.css";

/** A day without a lap: a company that is new is told what to do first, another where its pools are. */
export function FirstSteps({ desk }: { desk: boolean }) {
  const { t } = useTranslation();
  const pools = api.useQuery("get", "/api/v1/pools", { params: { query: { size: 1 } } });
  if (!pools.data) return null;
  if (pools.data.total > 0) {
    return (
      <p className="quiet-state">
        {t("lap.none")} <Link to="/pools">{t("lap.toPools")}</Link>
      </p>
    );
  }
  return (
    <section className={styles["first-steps"]} id="first-steps">
      <h1>{t("first.title")}</h1>
      <ol>
        <li>
          <GoButton type="primary" size="large" to="/pools/new">
            {t("first.pool")}
          </GoButton>
          <p>{t("first.poolWhy")}</p>
        </li>
        <li>
          <p>{t("first.bench")}</p>
        </li>
        <li>
          <p>{t("first.line")}</p>
        </li>
        {desk && (
          <li>
            <Link to="/office/people">{t("first.people")}</Link> · <Link to="/office">{t("first.office")}</Link> ·{" "}
            <Link to="/cleaning">{t("first.schools")}</Link>
          </li>
        )}
      </ol>
    </section>
  );
}
