import { useTranslation } from "react-i18next";
import type { DueView } from "../api/client";
import { toShown, unitOf } from "./format";
import styles from "./materials.module.css";

type List = DueView["items"][number]["materials"];

/** What to have on the van, with amounts. */
export function Materials({ list }: { list: List }) {
  const { t } = useTranslation();
  if (!list.length) return null;
  return (
    <span className={styles.materials}>
      {list
        .map((m) =>
          t("due.material", {
            name: m.name,
            amount: Number(toShown(m.amount, m.unit).toFixed(m.amount < 1 ? 2 : 1)),
            unit: unitOf(m.unit),
          }),
        )
        .join(" · ")}
    </span>
  );
}
