import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { v7 as uuid } from "uuid";
import { useChange } from "../../kept/use-change";
import { useKept } from "../../kept/use-kept";
import { WordsField } from "../../parts/words-field";
import styles from "./pool.module.css";

const fresh = () => ({ text: "" });

/** A note between visits; kept on this device until it is on record. */
export function AddNote({ pool, street }: { pool: string; street: string }) {
  const { t } = useTranslation();
  const { value, change, clear } = useKept("note", pool, fresh);
  const [id, setId] = useState(() => uuid());
  const { make, busy, says, refused } = useChange("note");
  const done = () => {
    clear();
    setId(uuid());
  };
  return (
    <form
      className={styles["add-note"]}
      onSubmit={(e) => {
        e.preventDefault();
        make(pool, street, { id, text: value.text }, done);
      }}
    >
      <WordsField
        id="note-text"
        label={t("record.addNote")}
        lines={2}
        max={4000}
        value={value.text}
        say={says.text ?? refused}
        onChange={(text) => change({ text })}
      />
      <Button htmlType="submit" size="small" id="note-save" disabled={busy}>
        {t("record.keepNote")}
      </Button>
    </form>
  );
}
