import { Button, Segmented } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, http, type Me } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { DataTable } from "../../parts/data-table";
import { SendSheet } from "../../parts/send-sheet";
import { StateMark } from "../../parts/state-mark";
import styles from "./office.module.css";

const tables = ["pools", "equipment", "visits", "readings"] as const;

/** The record out as spreadsheets, and in again: first as a dry run. */
export function Sheets({ me }: { me: Me }) {
  const { t } = useTranslation();
  const [id, setId] = useState<string | null>(null);
  return (
    <>
      <section>
        <h2>{t("sheets.out")}</h2>
        <p className="pad-files">
          <a href="/api/v1/sheets?format=xlsx" download>
            {t("sheets.book")}
          </a>
          {tables.map((name) => (
            <a key={name} href={`/api/v1/sheets?format=csv&table=${name}`} download>
              {t("sheets.csv", { name: t(`sheets.tables.${name}`) })}
            </a>
          ))}
          <a href="/api/v1/catalogue/file" download>
            {t("catalogue.download")}
          </a>
          {me.role === "owner" && (
            <a href="/api/v1/archive" download>
              {t("sheets.archive")}
            </a>
          )}
        </p>
        {me.role === "owner" && <p className="quiet">{t("sheets.archiveWhat")}</p>}
      </section>
      <section>
        <h2>{t("sheets.in")}</h2>
        <p className="quiet">{t("sheets.inWhat")}</p>
        <SendSheet id="import-file" label={t("sheets.choose")} onRead={(v) => setId(v.id)} />
        {id && <Import key={id} id={id} />}
      </section>
    </>
  );
}

/** One import as it stands: what becomes of each row, then how far it is. */
function Import({ id }: { id: string }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const [outcome, setOutcome] = useState<"refused" | "new" | "known">("refused");
  const at = { params: { path: { id } } };
  const job = api.useQuery("get", "/api/v1/imports/{id}", at, {
    refetchInterval: (q) => (["reading", "writing"].includes(q.state.data?.state ?? "") ? 400 : false),
  });
  const v = job.data;
  const shown = v && v.refused === 0 && outcome === "refused" ? "new" : outcome;
  const rows = api.useQuery(
    "get",
    "/api/v1/imports/{id}/rows",
    { params: { path: { id }, query: { outcome: shown } } },
    { enabled: v?.state === "read" },
  );
  if (!v) return null;
  const take = async () => {
    await http.POST("/api/v1/imports/{id}/take", at);
    await job.refetch();
    changed("everything");
  };
  return (
    <div className={styles.import} data-import={v.state}>
      <h2>{v.file}</h2>
      {v.state === "reading" && <p role="status">{t("sheets.reading")}</p>}
      {v.state === "failed" && (
        <p className="state-line" role="alert">
          <StateMark mark="stop" />
          <b>{v.says}</b>
        </p>
      )}
      {v.tables.length > 0 && (
        <DataTable
          name="tables"
          label={t("sheets.table")}
          rows={v.tables}
          keyOf={(x) => x.name}
          columns={[
            { key: "table", title: t("sheets.table"), head: true, cell: (x) => t(`sheets.tables.${x.name}`) },
            { key: "new", title: t("sheets.outcomes.new"), end: true, cell: (x) => x.new },
            { key: "known", title: t("sheets.outcomes.known"), end: true, cell: (x) => x.known },
            { key: "refused", title: t("sheets.outcomes.refused"), end: true, cell: (x) => x.refused },
          ]}
        />
      )}
      {v.state === "read" && (
        <>
          {v.refused > 0 ? (
            <p className="state-line" role="alert">
              <StateMark mark="act" />
              <b>{t("sheets.mend", { count: v.refused })}</b>
            </p>
          ) : (
            <p className="part-acts">
              <Button type="primary" size="large" id="import-take" onClick={take}>
                {t("sheets.take")}
              </Button>
              <span className="quiet">{t("sheets.untilNow")}</span>
            </p>
          )}
          <Segmented
            aria-label={t("sheets.rows")}
            value={shown}
            options={(["refused", "new", "known"] as const).map((f) => ({
              value: f,
              label: t(`sheets.outcomes.${f}`),
            }))}
            onChange={setOutcome}
          />
          <DataTable
            name="import-rows"
            label={t("sheets.rows")}
            rows={rows.data ?? []}
            keyOf={(r) => `${r.table} ${r.line}`}
            empty={t("sheets.noRows")}
            columns={[
              {
                key: "row",
                title: t("sheets.theRow"),
                head: true,
                cell: (r) => t("sheets.row", { table: t(`sheets.tables.${r.table}`), line: r.line }),
              },
              {
                key: "what",
                title: t("sheets.what"),
                cell: (r) => (
                  <>
                    {r.key}
                    {r.says?.map((s) => (
                      <span key={s} className="field-says">
                        {s}
                      </span>
                    ))}
                  </>
                ),
              },
            ]}
          />
        </>
      )}
      {v.state === "writing" && (
        <p role="status">
          <progress max={Math.max(1, v.total)} value={v.done} aria-label={t("sheets.writing")} />{" "}
          {t("sheets.progress", { done: v.done, total: v.total })}
        </p>
      )}
      {v.state === "done" && (
        <p className="state-line" role="status">
          <StateMark mark="fine" />
          <b>{t("sheets.done", { seconds: v.seconds.toFixed(1) })}</b>
        </p>
      )}
    </div>
  );
}
