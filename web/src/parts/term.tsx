import { Button, Popover } from "antd";
import { useTranslation } from "react-i18next";
import styles from "./term.module.css";

/** A term of ours, explained where it stands. */
export function Term({ name }: { name: "grade" | "cleanLine" | "load" }) {
  const { t } = useTranslation();
  return (
    <Popover trigger="click" content={<p className={styles.says}>{t(`terms.${name}`)}</p>}>
      <Button type="text" size="small" className={`${styles.ask} no-print`} aria-label={t("terms.ask")}>
        ?
      </Button>
    </Popover>
  );
}
