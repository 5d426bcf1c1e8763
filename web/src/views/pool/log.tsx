import { useInfiniteQuery } from "@tanstack/react-query";
import { Button, Input, Segmented } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { http, type LogEntry, type PoolRecordView, type Problem } from "../../api/client";
import { DataTable } from "../../parts/data-table";
import { entryLine } from "../../parts/entry-line";
import { clock, day, percent } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";
import { useSettled } from "../../parts/use-settled";
import { AddNote } from "./add-note";
import styles from "./pool.module.css";

/** What each choice shows of a log. */
const shows = {
  all: [],
  visits: ["visit"],
  work: ["run", "due"],
  parts: ["part", "pad", "clean-line"],
  notes: ["note", "photo", "inspection"],
} as const;

/** One dated log of everything at a pool, chosen by kind and searched by words. */
export function Log({ view }: { view: PoolRecordView }) {
  const { t } = useTranslation();
  const [show, setShow] = useState<keyof typeof shows>("all");
  const [find, setFind] = useState("");
  const settled = useSettled(find);
  const pool = view.pool.id;
  const pages = useInfiniteQuery({
    queryKey: ["get", "/api/v1/pools/{id}/log", pool, show, settled],
    initialPageParam: "",
    queryFn: async ({ pageParam }) => {
      const { data, error } = await http.GET("/api/v1/pools/{id}/log", {
        params: {
          path: { id: pool },
          query: { kind: [...shows[show]], find: settled, from: pageParam || undefined },
        },
      });
      if (!data) throw error as Problem;
      return data;
    },
    getNextPageParam: (page) => page.next,
    placeholderData: (before) => before,
  });
  const entries = pages.data?.pages.flatMap((p) => p.entries) ?? [];
  return (
    <section className={`sec ${styles.q4}`}>
      <div className="sec-head">
        <h2>{t("record.history")}</h2>
        <span className="quiet">{t("record.visits", { count: view.visitCount })}</span>
      </div>
      <div className={styles["log-tools"]}>
        <Segmented
          aria-label={t("record.show")}
          value={show}
          options={(Object.keys(shows) as (keyof typeof shows)[]).map((f) => ({
            value: f,
            label: t(`record.filter.${f}`),
          }))}
          onChange={setShow}
        />
        <Input
          id="find-log"
          type="search"
          className={styles.find}
          enterKeyHint="search"
          allowClear
          aria-label={t("record.find")}
          placeholder={t("record.find")}
          value={find}
          maxLength={120}
          onChange={(e) => setFind(e.target.value)}
        />
      </div>
      {pages.isError && <p className="empty">{t("state.offline")}</p>}
      <DataTable
        name="log"
        label={t("record.history")}
        rows={entries}
        keyOf={(e) => e.kind + e.id}
        attrs={(e) => ({
          className: e.visit?.correctedBy || e.visit?.takenBack ? styles.corrected : "",
          "data-visit": e.visit?.id,
          "data-entry": e.kind,
        })}
        empty={t("record.noEntries")}
        columns={[
          { key: "date", title: t("record.date"), cell: (e) => <When entry={e} /> },
          { key: "what", title: t("record.what"), cell: (e) => <What entry={e} /> },
          {
            key: "detail",
            title: t("record.detail"),
            cell: (e) => (
              <>
                {entryLine(e, t).detail} <span className="quiet">{e.by}</span>
              </>
            ),
          },
          { key: "load", title: t("lap.load"), end: true, cell: (e) => <LoadThen entry={e} /> },
        ]}
      />
      {pages.hasNextPage && <Button onClick={() => pages.fetchNextPage()}>{t("record.earlier")}</Button>}
      <AddNote pool={pool} street={view.pool.street} />
    </section>
  );
}

/** When it was, and when it came in where it was made without a line. */
function When({ entry: e }: { entry: LogEntry }) {
  const { t } = useTranslation();
  return (
    <>
      {day(e.at)}
      {e.receivedAt && (
        <span className="quiet" data-late>
          {" "}
          {t("record.cameIn", { at: `${day(e.receivedAt)} ${clock(e.receivedAt)}` })}
        </span>
      )}
    </>
  );
}

function What({ entry: e }: { entry: LogEntry }) {
  const { t } = useTranslation();
  const line = entryLine(e, t);
  return (
    <span className="state-line">
      <StateMark mark={line.mark} />
      {line.to ? (
        <Link to={line.to}>
          <b>{line.what}</b>
        </Link>
      ) : (
        <b>{line.what}</b>
      )}
      {e.visit?.correctedBy && <span className="quiet"> {t("record.corrected")}</span>}
      {e.visit?.corrects && <span className="quiet"> {t("record.correction")}</span>}
      {e.visit?.takenBack && <span className="quiet"> {t("record.takenBack")}</span>}
    </span>
  );
}

/** How loaded the filter was: after the visit where it was read then, as found otherwise. */
function LoadThen({ entry: e }: { entry: LogEntry }) {
  const load = e.visit ? (e.visit.loadAfter ?? e.visit.load) : null;
  if (load == null) return null;
  return (
    <>
      <span className="fig">{percent(Math.max(0, load))}</span> %
    </>
  );
}
