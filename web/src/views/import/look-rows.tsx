import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type ImportView, type RowOutcome } from "../../api/client";
import { StateMark } from "../../parts/state-mark";
import styles from "./import.module.css";

type Fixes = NonNullable<ImportView["choices"]["fixes"]>;

/** The rows that stay out, or come in otherwise than the file has them: each with its sentence and a cell to correct. */
export function LookRows({ id, v, onFix }: { id: string; v: ImportView; onFix: (fixes: Fixes) => void }) {
  const { t } = useTranslation();
  const at = (outcome: "refused" | "gap") => ({ params: { path: { id }, query: { outcome } } });
  const held = api.useQuery("get", "/api/v1/imports/{id}/rows", at("refused"), { enabled: v.state === "read" });
  const gaps = api.useQuery("get", "/api/v1/imports/{id}/rows", at("gap"), { enabled: v.state === "read" });
  // Technicians that nobody here is called are asked for once, above.
  const look = (r: RowOutcome) => r.outcome === "refused" || r.trouble?.some((f) => f !== "technician");
  const rows = [...(held.data ?? []), ...(gaps.data ?? [])].filter(look).sort((a, b) => a.line - b.line);
  if (rows.length === 0) return null;
  const fixes = v.choices.fixes ?? {};
  return (
    <section className={styles.part} id="import-look">
      <h2>
        {t("import.look", { count: rows.length })} <span className="quiet">{t("import.lookWhat")}</span>
      </h2>
      {rows.map((r) => (
        <LookRow
          key={`${r.line} ${JSON.stringify(fixes[r.line] ?? {})}`}
          row={r}
          onFix={(field, value) => onFix({ ...fixes, [r.line]: { ...fixes[r.line], [field]: value } })}
        />
      ))}
    </section>
  );
}

function LookRow({ row, onFix }: { row: RowOutcome; onFix: (field: string, value: string) => void }) {
  const { t } = useTranslation();
  const at = Math.max(0, row.trouble?.findIndex((f) => f !== "technician") ?? 0);
  const field = row.trouble?.[at] ?? "";
  const [typed, setTyped] = useState("");
  const fix = () => typed.trim() && onFix(field, typed.trim());
  return (
    <div className={styles.look} data-row={row.line} data-outcome={row.outcome}>
      <b>{t("import.row", { line: row.line })}</b>
      <span>
        <b>{row.cells?.customer || row.key}</b>
        <span className="quiet">{row.cells?.street}</span>
      </span>
      <span>
        {row.says?.map((s) => (
          <span key={s}>{s}</span>
        ))}
      </span>
      {field ? (
        <span className={styles.fix}>
          <Input
            aria-label={t("import.fixOf", { field: t(`import.fields.${field}`), line: row.line })}
            placeholder={t(`import.fields.${field}`)}
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
            onPressEnter={fix}
          />
          <Button disabled={!typed.trim()} onClick={fix}>
            {t("import.fix")}
          </Button>
        </span>
      ) : (
        <span />
      )}
      <span className={styles.trust}>
        <StateMark mark={row.outcome === "refused" ? "stop" : "act"} />
        {t(row.outcome === "refused" ? "import.staysOut" : "import.comesIn")}
      </span>
    </div>
  );
}
