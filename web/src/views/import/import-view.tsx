import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { useNavigate, useParams } from "react-router";
import { api, http, type ImportView as Import } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { Page } from "../../frame/page";
import { day } from "../../parts/format";
import { GoButton } from "../../parts/go-button";
import { Loading, Trouble } from "../../parts/quiet-states";
import { SendSheet } from "../../parts/send-sheet";
import { StateMark } from "../../parts/state-mark";
import { Columns } from "./columns";
import styles from "./import.module.css";
import { LookRows } from "./look-rows";
import { Preview } from "./preview";

/** How often an import that is under way is asked for. */
const often = 400;

/** A customer list on its way in: the file, what its columns are, which rows need a look, what will come in. */
export default function ImportView() {
  const { t } = useTranslation();
  const { id } = useParams();
  return (
    <Page title={t("import.title")}>
      {id ? <OneImport key={id} id={id} /> : <NewImport />}
      <Earlier but={id} />
    </Page>
  );
}

function NewImport() {
  const { t } = useTranslation();
  const go = useNavigate();
  return (
    <section className={styles.part}>
      <p>{t("import.what")}</p>
      <SendSheet id="import-list" label={t("import.choose")} onRead={(v) => go(`/import/${v.id}`)} />
      <p className="quiet">
        <a href={`data:text/csv;charset=utf-8,${encodeURIComponent(t("import.template"))}`} download="customers.csv">
          {t("import.templateName")}
        </a>{" "}
        {t("import.templateWhat")}
      </p>
    </section>
  );
}

function OneImport({ id }: { id: string }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const at = { params: { path: { id } } };
  const job = api.useQuery("get", "/api/v1/imports/{id}", at, {
    refetchInterval: (q) => (["reading", "writing"].includes(q.state.data?.state ?? "") ? often : false),
  });
  const queries = useQueryClient();
  const choose = api.useMutation("put", "/api/v1/imports/{id}/choices", {
    onSuccess: () => {
      queries.removeQueries({ queryKey: ["get", "/api/v1/imports/{id}/rows"] }); // the rows are read again
      return job.refetch();
    },
  });
  const take = async () => {
    await http.POST("/api/v1/imports/{id}/take", { params: { path: { id }, query: { leaveOut: true } } });
    await job.refetch();
    changed("everything");
  };
  const v = job.data;
  if (!v) return job.isError ? <Trouble error={job.error} onRetry={() => job.refetch()} /> : <Loading />;
  const counts = v.tables[0] ?? { new: 0, gap: 0, known: 0, refused: 0 };
  const all = counts.new + counts.known + counts.refused;
  const put = (choices: Partial<Import["choices"]>) =>
    choose.mutate({ ...at, body: { ...v.choices, ...choices } as Import["choices"] });
  if (v.state === "failed") {
    return (
      <section className={styles.part}>
        <p className="state-line" role="alert">
          <StateMark mark="stop" />
          <b>{v.says}</b>
        </p>
        <GoButton to="/import">{t("import.other")}</GoButton>
      </section>
    );
  }
  if (v.state === "done") return <Done v={v} />;
  const busy = v.state === "reading" || v.state === "writing" || choose.isPending;
  return (
    <div data-import={v.state} aria-busy={busy} className={busy ? styles.busy : ""}>
      <section className={styles.part}>
        <h2>
          {t("import.columns")} <span className="quiet">{t("import.rows", { file: v.file, count: all })}</span>
        </h2>
        <p className="quiet">{t("import.noPad")}</p>
        <Columns columns={v.columns} onChange={(columns) => put({ columns: { ...v.choices.columns, ...columns } })} />
        {(v.missing.length > 0 || v.choices.people) && (
          <p className={styles.people}>
            <span>
              {v.choices.people
                ? t("import.peopleComeIn")
                : t("import.missing", { names: v.missing.slice(0, 5).join(", "), count: v.missing.length })}
            </span>
            <Button id="import-people" onClick={() => put({ people: !v.choices.people })}>
              {t(v.choices.people ? "import.peopleNot" : "import.people")}
            </Button>
          </p>
        )}
      </section>
      {v.state !== "reading" && (
        <>
          <LookRows id={id} v={v} onFix={(fixes) => put({ fixes })} />
          <Preview id={id} v={v} />
        </>
      )}
      <footer className={styles.foot}>
        <span>
          <b>{all}</b> {t("import.of.rows")} · <b>{counts.new}</b> {t("import.of.in")}
          {counts.known > 0 && (
            <>
              {" "}
              · <b>{counts.known}</b> {t("import.of.known")}
            </>
          )}
          {counts.refused > 0 && (
            <>
              {" "}
              · <b>{counts.refused}</b> {t("import.of.out")}
            </>
          )}
        </span>
        <GoButton to="/import">{t("import.other")}</GoButton>
        <Button
          type="primary"
          size="large"
          id="import-take"
          disabled={busy || counts.new === 0}
          loading={v.state === "writing"}
          onClick={take}
        >
          {counts.refused > 0
            ? t("import.takeLeaving", { in: counts.new, out: counts.refused })
            : t("import.take", { count: counts.new })}
        </Button>
      </footer>
    </div>
  );
}

/** What came in, and what is next. */
function Done({ v }: { v: Import }) {
  const { t } = useTranslation();
  return (
    <section className={styles.part} data-import="done">
      <p className="state-line" role="status">
        <StateMark mark="fine" />
        <b>{t("import.done", { count: v.pools, file: v.file })}</b>
      </p>
      <p className="part-acts">
        <GoButton type="primary" size="large" to="/week" id="import-next">
          {t("import.toWeek")}
        </GoButton>
        <GoButton to="/office/people">{t("import.toPeople")}</GoButton>
        <GoButton to="/pools">{t("import.toPools")}</GoButton>
      </p>
    </section>
  );
}

/** Lists that came in lately, to be taken back. */
function Earlier({ but }: { but?: string }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const list = api.useQuery("get", "/api/v1/imports");
  const back = api.useMutation("post", "/api/v1/imports/{id}/withdrawal", { onSuccess: () => changed("everything") });
  const rows = (list.data ?? []).filter((v) => v.id !== but || v.state === "done");
  if (rows.length === 0) return null;
  return (
    <section className={styles.part} id="earlier-imports">
      <h2>{t("import.earlier")}</h2>
      {rows.map((v) => (
        <div key={v.id} className={styles.earlier}>
          <span>
            <b>{v.file}</b>, {day(v.madeAt)}, {v.by}. {t("import.cameIn", { count: v.pools })}
          </span>
          {v.until ? (
            <>
              <span className="quiet">{t("import.until", { day: day(v.until) })}</span>
              <Button
                loading={back.isPending}
                onClick={() => back.mutate({ params: { path: { id: v.id } } })}
                data-take-back={v.id}
              >
                {t("import.takeBack")}
              </Button>
            </>
          ) : (
            v.pools > 0 && <span className="quiet">{t("import.takenBack")}</span>
          )}
        </div>
      ))}
      <p className="quiet">{t("import.takeBackWhat")}</p>
    </section>
  );
}
