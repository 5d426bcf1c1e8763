import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { http, type PoolRecordView } from "../../api/client";
import { Tool } from "../../parts/glyphs";
import { RecordEnd, useRecordForm } from "../../parts/record-form";
import { WordsField } from "../../parts/words-field";
import styles from "./pool.module.css";

type Pool = Pick<PoolRecordView["pool"], "id" | "accessNote" | "version">;

/** How to get in. The desk may change it; when two do, both texts are shown. */
export function AccessNote({ pool, mayEdit }: { pool: Pool; mayEdit: boolean }) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  if (open) return <Form pool={pool} onDone={() => setOpen(false)} />;
  return (
    <p className="gate">
      <Tool name="gate" size={18} />
      {pool.accessNote || t("record.noAccess")}
      {mayEdit && (
        <Button type="link" onClick={() => setOpen(true)}>
          {t("record.change")}
        </Button>
      )}
    </p>
  );
}

const typed = (p: Pick<Pool, "accessNote">) => ({ accessNote: p.accessNote });

function Form({ pool, onDone }: { pool: Pool; onDone: () => void }) {
  const { t } = useTranslation();
  const record = useRecordForm<Pick<Pool, "accessNote" | "version">, { accessNote: string }, { accessNote: string }>(
    pool,
    typed,
    {
      body: (form) => form,
      put: (body) => http.PUT("/api/v1/pools/{id}/access-note", { params: { path: { id: pool.id } }, body }),
      changed: "pool",
      onSaved: onDone,
    },
  );
  return (
    <form className={styles["gate-edit"]} onSubmit={record.submit}>
      <WordsField
        id="access-note"
        label={t("record.access")}
        value={record.form.accessNote}
        say={record.says.accessNote}
        onChange={(accessNote) => record.set({ accessNote })}
      />
      <RecordEnd record={record} theirs={(r) => t("record.nowSays", { text: r.accessNote })}>
        <Button type="link" onClick={onDone}>
          {t("log.back")}
        </Button>
      </RecordEnd>
    </form>
  );
}
