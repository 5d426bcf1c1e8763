import { useTranslation } from "react-i18next";
import { DataTable } from "./data-table";
import { difference, figure } from "./format";
import type { Grade } from "./grade-line";

/** The grade line in figures: each place, today and as it would be clean. */
export default function GradeTable({ grade, name }: { grade: Grade; name: (id: string) => string }) {
  const { t } = useTranslation();
  return (
    <DataTable
      name="grade-table"
      label={t("grade.tableCaption")}
      rows={grade.stations}
      keyOf={(s) => s.id}
      columns={[
        { key: "place", title: t("grade.place"), head: true, cell: (s) => name(s.id) },
        { key: "before", title: t("grade.before"), cell: (s) => <Both is={s.todayIn} clean={s.cleanIn} /> },
        { key: "after", title: t("grade.after"), cell: (s) => <Both is={s.todayOut} clean={s.cleanOut} /> },
        {
          key: "lost",
          title: t("grade.lost"),
          cell: (s) => (
            <>
              <span className="n">{figure(s.todayIn - s.todayOut, "psi")}</span>{" "}
              {difference(s.todayIn - s.todayOut - (s.cleanIn - s.cleanOut), "psi")}
            </>
          ),
        },
      ]}
    />
  );
}

/** A pressure today, and as it would be clean. */
function Both({ is, clean }: { is: number; clean: number }) {
  return (
    <>
      <span className="n">{figure(is, "psi")}</span> <span className="exp">{figure(clean, "psi")}</span>
    </>
  );
}
