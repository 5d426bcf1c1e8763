import { useInfiniteQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { http, type LogEntry, type PoolRecordView, type Problem } from "../../api/client";
import { day, percent } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";
import { useSettled } from "../../parts/use-settled";
import { AddNote } from "./add-note";
import { entryLine } from "./entry-line";

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
    <section className="sec q4">
      <div className="sec-head">
        <h2>{t("record.history")}</h2>
        <span className="quiet">{t("record.visits", { count: view.visitCount })}</span>
      </div>
      <div className="log-tools">
        <fieldset className="filters">
          <legend className="sr">{t("record.show")}</legend>
          {(Object.keys(shows) as (keyof typeof shows)[]).map((f) => (
            <button key={f} type="button" aria-pressed={f === show} onClick={() => setShow(f)}>
              {t(`record.filter.${f}`)}
            </button>
          ))}
        </fieldset>
        <label className="find">
          <span className="sr">{t("record.find")}</span>
          <input
            id="find-log"
            type="search"
            placeholder={t("record.find")}
            value={find}
            maxLength={120}
            onChange={(e) => setFind(e.target.value)}
          />
        </label>
      </div>
      {pages.isError && <p className="empty">{t("state.offline")}</p>}
      {pages.isSuccess && entries.length === 0 && <p className="empty">{t("record.noEntries")}</p>}
      <table className="log">
        <thead className="sr">
          <tr>
            <th>{t("record.date")}</th>
            <th>{t("record.what")}</th>
            <th>{t("record.detail")}</th>
            <th>{t("lap.load")}</th>
          </tr>
        </thead>
        <tbody>
          {entries.map((e) => (
            <Entry key={e.kind + e.id} entry={e} />
          ))}
        </tbody>
      </table>
      {pages.hasNextPage && (
        <button type="button" className="btn" onClick={() => pages.fetchNextPage()}>
          {t("record.earlier")}
        </button>
      )}
      <AddNote pool={pool} />
    </section>
  );
}

function Entry({ entry: e }: { entry: LogEntry }) {
  const { t } = useTranslation();
  const line = entryLine(e, t);
  const load = e.visit ? (e.visit.loadAfter ?? e.visit.load) : null;
  return (
    <tr className={e.visit?.correctedBy ? "corrected" : ""} data-visit={e.visit?.id} data-entry={e.kind}>
      <td className="d">{day(e.at)}</td>
      <td className="a">
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
      </td>
      <td>
        {line.detail} <span className="quiet">{e.by}</span>
      </td>
      <td className="ld">
        {load != null && (
          <>
            <span className="fig">{percent(Math.max(0, load))}</span> %
          </>
        )}
      </td>
    </tr>
  );
}
