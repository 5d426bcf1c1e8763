import { Button } from "antd";
import { type ReactNode, Suspense, useState } from "react";
import { useTranslation } from "react-i18next";
import { later } from "./later";
import styles from "./term.module.css";

const TermSays = later(() => import("./term-says"));

/** A term of ours, explained where it stands. */
export function Term({ name }: { name: "grade" | "cleanLine" | "load" }) {
  const { t } = useTranslation();
  const [asked, setAsked] = useState(false);
  const button: ReactNode = (
    <Button
      type="text"
      size="small"
      className={`${styles.ask} no-print`}
      aria-label={t("terms.ask")}
      onClick={() => setAsked(true)}
    >
      ?
    </Button>
  );
  if (!asked) return button;
  return (
    <Suspense fallback={button}>
      <TermSays says={t(`terms.${name}`)}>{button}</TermSays>
    </Suspense>
  );
}
