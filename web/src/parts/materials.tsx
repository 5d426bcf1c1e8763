import { useTranslation } from "react-i18next";
import type { DueView } from "../api/client";

type List = DueView["items"][number]["materials"];

/** What to have on the van, with amounts. */
export function Materials({ list }: { list: List }) {
  const { t } = useTranslation();
  if (!list.length) return null;
  return (
    <span className="materials">
      {list
        .map((m) =>
          t("due.material", { name: m.name, amount: Number(m.amount.toFixed(m.amount < 1 ? 2 : 1)), unit: m.unit }),
        )
        .join(" · ")}
    </span>
  );
}
