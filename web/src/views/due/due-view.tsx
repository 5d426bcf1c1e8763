import { Button } from "antd";
import { type ReactNode, useState } from "react";
import { useTranslation } from "react-i18next";
import { useParams } from "react-router";
import { v7 as uuid } from "uuid";
import { api, type DueView as Due, type PoolWork } from "../../api/client";
import { useMe } from "../../frame/me";
import { Page } from "../../frame/page";
import { PoolPages } from "../../frame/pool-pages";
import { useChange } from "../../kept/use-change";
import { now } from "../../parts/clock";
import { chance, clock, day, longDay } from "../../parts/format";
import { Materials } from "../../parts/materials";
import { Loading, Trouble } from "../../parts/quiet-states";
import { RunsAndWork, useWork } from "../../parts/runs-and-work";
import { StartRun } from "../../parts/start-run";
import { StateMark } from "../../parts/state-mark";
import { WaitsHere } from "../../parts/waits-here";
import { WordsField } from "../../parts/words-field";
import styles from "./due.module.css";
import { OwnSchool } from "./own-school";

type Item = Due["items"][number];
type Act = Exclude<Due["marks"][number]["act"], "owe">;

/** What falls due at a pool and when, what wears, and what was decided about it. */
export function DueView() {
  const { id = "" } = useParams();
  const me = useMe();
  const due = api.useQuery("get", "/api/v1/pools/{id}/due", { params: { path: { id } } });
  return (
    <Page>
      {due.isError && !due.data && <Trouble error={due.error} onRetry={() => due.refetch()} />}
      {due.isPending && <Loading />}
      {due.data && (
        <>
          <header className="top">
            <h1>{due.data.pool.street}</h1>
          </header>
          <PoolPages id={id} />
          <AtHand id={id} due={due.data} desk={me.role !== "technician"} />
        </>
      )}
    </Page>
  );
}

function AtHand({ id, due, desk }: { id: string; due: Due; desk: boolean }) {
  const { t } = useTranslation();
  const work = useWork(id);
  return (
    <div className={styles.due}>
      <WaitsHere pool={id} />
      <section className="sec" aria-labelledby="due-head">
        <h2 id="due-head">{t("due.head")}</h2>
        {due.items.length === 0 && <p className="empty">{t("due.none")}</p>}
        <ul className={styles["due-list"]}>
          {due.items.map((d) => (
            <DueLine key={d.item} pool={id} street={due.pool.street} item={d} work={work} />
          ))}
        </ul>
      </section>
      {due.runTime && (
        <p className="state-line" id="run-time">
          <StateMark mark="act" />
          <span>{due.runTime}</span>
        </p>
      )}
      {work && <RunsAndWork pool={id} work={work} />}
      <p className={`quiet ${styles.routine}`}>{t("due.routine", { what: due.routine.join(", ") })}</p>
      <OwnSchool id={id} desk={desk} />
      <section className="sec" aria-labelledby="wear-head">
        <h2 id="wear-head">{t("due.wear")}</h2>
        {due.wear.length === 0 && <p className="empty">{t("due.noWear")}</p>}
        {due.wear.map((w) => (
          <div key={w.id} data-wear={w.id} className="wear">
            <p className="state-line">
              <StateMark mark="act" />
              <b>{w.name}</b>
            </p>
            <p>
              {w.says} {t("due.luck", { p: chance(w.luck), n: w.n })} {w.plan}
            </p>
          </div>
        ))}
      </section>
      {due.marks.length > 0 && (
        <section className="sec" aria-labelledby="marks-head">
          <h2 id="marks-head">{t("due.decided")}</h2>
          <ul className="marks">
            {due.marks.map((m) => (
              <li key={m.at + m.item}>
                <b>{t(`due.did.${m.act}`, { until: m.until ? longDay(m.until) : "" })}</b>: {m.name}
                {m.reason && <q>{m.reason}</q>}
                <span className="quiet">
                  {" "}
                  {m.by}, {day(m.at)} {clock(m.at)}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

const markOf = (d: Item, late: boolean) =>
  d.hold ? "hold" : d.snoozed ? "open" : late || d.harm > 0.5 ? "act" : "job";

function DueLine({ pool, street, item: d, work }: { pool: string; street: string; item: Item; work?: PoolWork }) {
  const { t } = useTranslation();
  const p = work?.procedures.find((x) => x.item === d.item);
  const late = new Date(d.by) < now() && day(d.by) !== day(now());
  return (
    <li data-due={d.item} className={late ? "late" : ""}>
      <div className={styles["due-what"]}>
        <StateMark mark={markOf(d, late)} size={18} />
        <b>{d.name}</b>
        <span className="quiet">{d.reason}</span>
        <Materials list={d.materials} />
      </div>
      <p className={styles["due-when"]}>
        <span>
          {t(late ? "due.late" : "due.by")} <b>{longDay(d.by)}</b>
        </span>
        <span>{t("due.minutes", { n: d.minutes })}</span>
        <span>{d.visit ? t("due.visit", { at: day(d.visit) }) : t("due.noVisit")}</span>
        {d.hold && (
          <span className={styles.held}>
            {t("due.held", { why: d.hold.why, at: `${day(d.hold.until)} ${clock(d.hold.until)}` })}
          </span>
        )}
        {d.snoozed && <span className={styles.held}>{t("due.snoozed", { at: longDay(d.snoozed) })}</span>}
      </p>
      <Decide pool={pool} street={street} item={d}>
        {work && p && <StartRun pool={pool} work={work} procedure={p} label={t("run.asRun")} />}
      </Decide>
    </li>
  );
}

/** What may be decided about a piece of due work; a reason is asked for where the next one needs it. */
function Decide({
  pool,
  street,
  item: d,
  children,
}: {
  pool: string;
  street: string;
  item: Item;
  children?: ReactNode;
}) {
  const { t } = useTranslation();
  const [asking, setAsking] = useState<Act | null>(null);
  const [reason, setReason] = useState("");
  const { make, busy, says, refused } = useChange("mark");
  const put = (act: Act) => {
    const week = new Date(now().getTime() + 7 * 86_400_000).toISOString();
    make(pool, street, { id: uuid(), item: d.item, act, reason, until: act === "snooze" ? week : undefined }, () => {
      setAsking(null);
      setReason("");
    });
  };
  // The filter's own cleaning is done by logging it at the bench, where it is read before and after.
  const acts: Act[] = [
    ...(d.ground === "load" ? [] : (["done"] as Act[])),
    d.snoozed || d.planned ? "resume" : "snooze",
    "cancel",
  ];
  if (d.hold) acts.push("override");
  return (
    <div className="decide">
      {children}
      {acts.map((a) => (
        <Button
          key={a}
          size="small"
          data-act={a}
          disabled={busy}
          onClick={() => (a === "cancel" || a === "override" ? setAsking(a) : put(a))}
        >
          {t(`due.act.${a}`)}
        </Button>
      ))}
      {asking && (
        <form
          className={styles["why-form"]}
          onSubmit={(e) => {
            e.preventDefault();
            put(asking);
          }}
        >
          {asking === "override" && (
            <p className="caution">
              <StateMark mark="stop" />
              <span>{t("due.overrideCaution")}</span>
            </p>
          )}
          <WordsField label={t(`due.why.${asking}`)} value={reason} say={says.reason} onChange={setReason} />
          <Button htmlType="submit" type="primary">
            {t("due.keep")}
          </Button>
          <Button size="small" onClick={() => setAsking(null)}>
            {t("due.leave")}
          </Button>
        </form>
      )}
      {refused && (
        <p className="state-line" role="alert">
          <StateMark mark="act" />
          <span>{refused}</span>
        </p>
      )}
    </div>
  );
}
