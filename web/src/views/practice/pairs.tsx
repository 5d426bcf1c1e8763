import { useTranslation } from "react-i18next";
import type { PracticeStanding } from "../../api/client";
import { DataTable } from "../../parts/data-table";
import { StateMark } from "../../parts/state-mark";

/** What somebody tells apart, and what they take for each other. */
export function Pairs({ pairs }: { pairs: PracticeStanding["pairs"] }) {
  const { t } = useTranslation();
  return (
    <DataTable
      name="practice-pairs"
      label={t("practice.pairs")}
      rows={pairs}
      keyOf={(_, i) => i}
      empty={t("practice.noPairs")}
      columns={[
        {
          key: "pair",
          title: t("practice.pairs"),
          head: true,
          cell: (p) => t("practice.orThat", { one: p.this, other: p.that }),
        },
        { key: "met", title: t("practice.met"), cell: (p) => <span className="n">{p.met}</span> },
        { key: "parted", title: t("practice.parted"), cell: (p) => <span className="n">{p.parted}</span> },
        {
          key: "mixed",
          title: t("practice.mixed"),
          cell: (p) => (
            <span className="state-line">
              {p.mixed > 0 && <StateMark mark="act" />}
              <span className="n">{p.mixed}</span>
            </span>
          ),
        },
      ]}
    />
  );
}
