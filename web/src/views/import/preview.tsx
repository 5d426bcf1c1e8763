import { Segmented } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type ImportView } from "../../api/client";
import { DataTable } from "../../parts/data-table";
import { measured, weekdays } from "../../parts/format";
import styles from "./import.module.css";

/** How many rows are shown at first. */
const few = 10;

/** What will come in, row by row. */
export function Preview({ id, v }: { id: string; v: ImportView }) {
  const { t } = useTranslation();
  const [all, setAll] = useState(false);
  const rows = api.useQuery(
    "get",
    "/api/v1/imports/{id}/rows",
    { params: { path: { id } } },
    { enabled: v.state === "read" },
  );
  const coming = (rows.data ?? []).filter((r) => r.outcome === "new" || r.outcome === "gap");
  if (coming.length === 0) return null;
  const names = weekdays();
  return (
    <section className={styles.part} id="import-preview">
      <h2 className={styles.headed}>
        {t("import.preview")}
        {coming.length > few && (
          <Segmented
            value={all ? "all" : "few"}
            options={[
              { value: "few", label: t("import.firstFew", { count: few }) },
              { value: "all", label: t("import.all", { count: coming.length }) },
            ]}
            onChange={(is) => setAll(is === "all")}
          />
        )}
      </h2>
      <DataTable
        name="import-preview-rows"
        label={t("import.preview")}
        rows={all ? coming : coming.slice(0, few)}
        keyOf={(r) => r.line}
        stacks
        columns={[
          { key: "line", title: t("import.rowHead"), cell: (r) => r.line },
          { key: "customer", title: t("import.fields.customer"), head: true, cell: (r) => r.cells?.customer },
          { key: "street", title: t("import.fields.street"), cell: (r) => r.cells?.street },
          { key: "city", title: t("import.fields.city"), cell: (r) => r.cells?.city },
          { key: "phone", title: t("import.fields.phone"), cell: (r) => r.cells?.phone },
          { key: "day", title: t("import.fields.weekday"), cell: (r) => names[Number(r.cells?.weekday ?? 1)] },
          {
            key: "tech",
            title: t("import.fields.technician"),
            cell: (r) => r.cells?.technician || <span className="quiet">{t("import.nobody")}</span>,
          },
          {
            key: "volume",
            title: t("import.volume"),
            end: true,
            cell: (r) => (r.cells?.volume_gal ? measured(Number(r.cells.volume_gal), "gal") : ""),
          },
        ]}
      />
    </section>
  );
}
