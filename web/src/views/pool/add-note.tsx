import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { v7 as uuid } from "uuid";
import { api, fieldSays, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { useKept } from "../../kept/use-kept";
import { WordsField } from "../../parts/words-field";
import styles from "./pool.module.css";

const fresh = () => ({ text: "" });

/** A note between visits; kept on this device until it is on record. */
export function AddNote({ pool }: { pool: string }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const { value, change, clear } = useKept("note", pool, fresh);
  const [id, setId] = useState(() => uuid());
  const add = api.useMutation("post", "/api/v1/pools/{id}/notes", {
    onSuccess: () => {
      clear();
      setId(uuid());
      changed("beside");
    },
  });
  const problem = add.error as Problem | null;
  const says = fieldSays(problem).text ?? (problem ? (problem.detail ?? t("state.offline")) : "");
  return (
    <form
      className={styles["add-note"]}
      onSubmit={(e) => {
        e.preventDefault();
        add.mutate({ params: { path: { id: pool } }, body: { id, text: value.text } });
      }}
    >
      <WordsField
        id="note-text"
        label={t("record.addNote")}
        lines={2}
        max={4000}
        value={value.text}
        say={says}
        onChange={(text) => change({ text })}
      />
      <Button htmlType="submit" size="small" id="note-save" disabled={add.isPending}>
        {t("record.keepNote")}
      </Button>
    </form>
  );
}
