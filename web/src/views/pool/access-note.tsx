import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type PoolRecordView, type Problem } from "../../api/client";
import { Tool } from "../../parts/glyphs";
import { StateMark } from "../../parts/state-mark";

/** How to get in. The desk may change it; when two do, both texts are shown. */
export function AccessNote({ pool, mayEdit }: { pool: PoolRecordView["pool"]; mayEdit: boolean }) {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [text, setText] = useState<string | null>(null);
  const [version, setVersion] = useState(pool.version);
  const save = api.useMutation("put", "/api/v1/pools/{id}/access-note");
  const problem = save.error as Problem | null;
  const other =
    problem?.status === 409
      ? (problem.errors?.[0]?.value as { accessNote: string; version: number } | undefined)
      : undefined;
  const put = (v: number) =>
    save.mutate(
      { params: { path: { id: pool.id } }, body: { accessNote: text ?? "", version: v } },
      {
        onSuccess: (n) => {
          setText(null);
          setVersion(n.version);
          queries.invalidateQueries();
        },
      },
    );
  if (text === null) {
    return (
      <p className="gate">
        <Tool name="gate" size={18} />
        {pool.accessNote || t("record.noAccess")}
        {mayEdit && (
          <button
            type="button"
            className="as-table"
            onClick={() => {
              setText(pool.accessNote);
              setVersion(pool.version);
            }}
          >
            {t("record.change")}
          </button>
        )}
      </p>
    );
  }
  return (
    <div className="gate-edit">
      <label className="line">
        {t("record.access")}
        <input value={text} maxLength={500} onChange={(e) => setText(e.target.value)} />
      </label>
      {problem && (
        <p className="state-line" role="alert">
          <StateMark mark="act" />
          <span>
            {problem.detail} {other && t("record.nowSays", { text: other.accessNote })}
          </span>
        </p>
      )}
      <button type="button" className="btn" onClick={() => put(other?.version ?? version)}>
        {t(other ? "record.keepMine" : "record.save")}
      </button>
      <button
        type="button"
        className="btn plain"
        onClick={() => {
          setText(null);
          save.reset();
          queries.invalidateQueries();
        }}
      >
        {t(other ? "record.keepTheirs" : "log.back")}
      </button>
    </div>
  );
}
