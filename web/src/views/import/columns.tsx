import { useTranslation } from "react-i18next";
import type { ImportView } from "../../api/client";
import { Choice } from "../../parts/choice";
import { StateMark } from "../../parts/state-mark";
import styles from "./import.module.css";

type Column = ImportView["columns"][number];

/** The fields of a list, in the order that they are offered in. */
const listFields = [
  "customer",
  "first_name",
  "last_name",
  "street",
  "house",
  "which",
  "city",
  "state",
  "zip",
  "phone",
  "email",
  "weekday",
  "technician",
  "volume_gal",
  "volume_l",
  "size",
  "length_ft",
  "width_ft",
  "depth_ft",
  "surface",
  "access_note",
  "minutes",
  "lap_order",
  "since",
  "lat",
  "lon",
] as const;

const marks: Record<Column["trust"], string> = {
  sure: "fine",
  chosen: "fine",
  likely: "job",
  guess: "act",
  out: "open",
};

/** What each column is taken for, how sure that is, and the way to change it. */
export function Columns({
  columns,
  onChange,
}: {
  columns: Column[];
  onChange: (chosen: Record<string, string>) => void;
}) {
  const { t } = useTranslation();
  return (
    <div className={styles.columns}>
      {columns.map((c) => (
        <div key={c.heading} className={styles.column} data-column={c.heading} data-trust={c.trust}>
          <span className={styles.heading}>
            <b>{c.heading}</b>
            <span className="quiet">{c.sample || t("import.empty")}</span>
          </span>
          <Choice
            label={t("import.takenFor", { heading: c.heading })}
            value={c.field}
            options={[
              { value: "", label: t("import.leaveOut") },
              ...listFields.map((f) => ({ value: f as string, label: t(`import.fields.${f}`) })),
            ]}
            onChange={(field) => onChange({ [c.heading]: field })}
          />
          <span className={styles.trust}>
            <StateMark mark={marks[c.trust]} />
            <span>
              <b>{t(`import.trust.${c.trust}`)}</b>
              <span className="quiet">
                {c.of > 0 && c.field ? t("import.fit", { fit: c.fit, of: c.of }) : c.of === 0 ? t("import.empty") : ""}
              </span>
            </span>
          </span>
        </div>
      ))}
    </div>
  );
}
