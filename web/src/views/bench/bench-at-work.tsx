import { Button } from "antd";
import { useEffect, useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useLocation, useNavigate } from "react-router";
import {
  api,
  type Bench,
  type Findings,
  fieldSays,
  http,
  mayPass,
  type PoolWork,
  type Problem,
} from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { useMe } from "../../frame/me";
import { clock, daysBetween, longDay, measured, now } from "../../parts/format";
import { Tool } from "../../parts/glyphs";
import { GoButton } from "../../parts/go-button";
import { GradeLine } from "../../parts/grade-line";
import { PumpPlate } from "../../parts/pump-plate";
import { RunsAndWork, useWork } from "../../parts/runs-and-work";
import { StartRun } from "../../parts/start-run";
import { StateMark } from "../../parts/state-mark";
import { Where } from "../../parts/where";
import styles from "./bench.module.css";
import { asVisit, emptyReading, findingsOf, stamped, useDraft } from "./draft";
import { Found } from "./found";
import { Chronic, Cleaning, NextCheck, Suspects, WhatIf } from "./judge";
import { useBenchKeys } from "./keys";
import { LogSheet } from "./log-sheet";
import { Readings } from "./readings";
import { Signs } from "./signs";
import { takeOver } from "./take-over";
import { useVerdict } from "./use-verdict";
import { otherwise, useWhatIf } from "./what-if";

/** Milliseconds between tries to send a logged visit. */
const sendAgain = 4000;

export function BenchAtWork({ bench }: { bench: Bench }) {
  const { t } = useTranslation();
  const me = useMe();
  const { draft, change, clear, kept } = useDraft(bench.stopId);
  const { readings: typed, signs: seen, signsAt, called } = draft;
  // Opened because somebody called: said once, and taken back by a tap.
  const callOut = Boolean((useLocation().state as { called?: boolean } | null)?.called);
  useEffect(() => {
    if (callOut && called === undefined) change({ called: true });
  }, [callOut, called, change]);
  const found = useMemo(
    () => findingsOf({ readings: typed, signs: seen, signsAt, called }),
    [typed, seen, signsAt, called],
  );
  const trying = useWhatIf(found);
  const findings = trying.tried ?? found;
  const { readings, signs } = findings;
  /** What is read and seen goes to the draft, or nowhere while trying. */
  const find = (part: Partial<Findings>) => (trying.tried ? trying.change(part) : change(part));
  const { verdict, stale, says, trouble, retry } = useVerdict(bench.stopId, findings);
  const [table, setTable] = useState(false);
  const send = useSend(bench, draft, change, clear);
  useBenchKeys(bench.stopId);
  const work = useWork(bench.pool.id, bench.stopId);
  const taken = work && !bench.visitId && !draft.closedAt ? takeOver(draft, work.runs) : undefined;
  useEffect(() => {
    if (taken) change(taken);
  }, [taken, change]);
  const rpm = Number.parseFloat(readings[0]?.speed.replace(/[,\s]/g, "") ?? "") || null;
  const answer = (id: string, yes: boolean | undefined) => {
    const { [id]: _, ...rest } = signs;
    find({
      signs: yes === undefined ? rest : { ...rest, [id]: yes },
      signsAt: { ...findings.signsAt, [id]: now().toISOString() },
    });
  };
  const takeReading = (r: { setting: string; rpm: number }) => {
    const row = readings.length;
    const setting = r.setting === "recirculate" ? "recirculate" : "filter";
    find({ readings: [...readings, { ...emptyReading(), setting, speed: String(r.rpm) }] });
    setTimeout(() => document.getElementById(`reading-${row}-tank`)?.focus());
  };
  const readDemo = async (row: number) => {
    const typed = Number.parseFloat(draft.readings[row].speed.replace(/[,\s]/g, "")) || 0;
    const { data } = await http.GET("/api/v1/demo/stops/{id}/meters", {
      params: { path: { id: bench.stopId }, query: { rpm: typed } },
    });
    if (!data) return;
    change((stands) => ({
      pump: "running",
      readings: stands.readings.map((r, i) => (i === row ? { ...data.readings[0], setting: r.setting } : r)),
      signs: { ...data.signs, ...stands.signs },
    }));
  };
  /** Work as a guided run, where there is some. */
  const startOf = (p: PoolWork["procedures"][number] | undefined) =>
    work && p ? (
      <StartRun
        key={p.id}
        pool={bench.pool.id}
        stop={bench.stopId}
        rpm={rpm}
        work={work}
        procedure={p}
        label={`${t("run.asRun")}: ${p.name}`}
      />
    ) : null;
  const asRun = (sign: string) => startOf(work?.procedures.find((p) => p.checks.includes(sign)));
  const mend = (fault: string) => startOf(work?.procedures.find((p) => p.mends.includes(fault)));
  const pump = draft.pump === "unknown" && rpm ? "running" : draft.pump;
  return (
    <div className={`frame ${styles.bench}`}>
      <Header bench={bench} />
      <PumpPlate state={pump} rpm={rpm} onState={(s) => change({ pump: s })} />
      <main className={styles.work} id="page">
        {trying.tried && <WhatIf before={trying.before} verdict={verdict} onBack={trying.stop} />}
        {verdict?.dangers.map((d) => (
          <p key={d.code} className={`danger ${d.stop ? "stop" : ""}`} role="alert">
            <StateMark mark="stop" size={22} />
            <b>{d.says}</b>
          </p>
        ))}
        {bench.visitId && !draft.corrects && (
          <p className={styles.logged}>
            <StateMark mark="fine" />
            <span>
              {t("bench.logged")} <Link to={`/visits/${bench.visitId}`}>{t("bench.openVisit")}</Link>
            </span>
          </p>
        )}
        <section className={`sec ${styles["sec-grade"]}`} aria-labelledby="grade-head">
          <div className="sec-head">
            <h2 id="grade-head">{t("grade.title")}</h2>
            <GradeKey />
            {verdict?.grade && (
              <Button type="link" aria-pressed={table} onClick={() => setTable(!table)}>
                {t(table ? "grade.asLine" : "grade.asTable")}
              </Button>
            )}
          </div>
          {verdict?.grade ? (
            <GradeLine
              grade={verdict.grade}
              reading={verdict.readings[0]}
              suctionWords={bench.pad.suctionWords}
              table={table}
            />
          ) : (
            <p className="empty">{t("grade.empty")}</p>
          )}
        </section>
        <Readings
          pad={bench.pad}
          readings={readings}
          verdict={verdict}
          says={says}
          onChange={(is) => find({ readings: stamped(readings, is) })}
          onDemo={me.demo && !trying.tried ? readDemo : undefined}
        />
        {verdict && <OneLine verdict={verdict} />}
        <button
          type="button"
          id="called"
          className={`${styles.chip} ${styles.called} ${findings.called ? "yes" : ""}`}
          aria-pressed={Boolean(findings.called)}
          onClick={() => find({ called: !findings.called })}
        >
          {t("bench.called")}
        </button>
        <Signs signs={bench.signs} answers={signs} onAnswer={answer} />
        {bench.notices.length > 0 && (
          <section className={`sec ${styles["sec-notices"]}`} aria-label={t("bench.notices")}>
            {bench.notices.map((n) => (
              <p key={n} className="advice">
                <StateMark mark="job" />
                <span>{n}</span>
              </p>
            ))}
          </section>
        )}
      </main>
      <aside className={`${styles.judge} ${stale ? "stale" : ""}`} aria-live="polite" aria-busy={stale}>
        {trouble && (
          <p className="advice" role="alert">
            <StateMark mark="act" />
            <span>
              {trouble.status ? trouble.detail : t("state.offline")}{" "}
              <Button type="link" onClick={retry}>
                {t("state.retry")}
              </Button>
            </span>
          </p>
        )}
        {verdict?.state === "stop" && <p className={styles.bound}>{t("bench.bound")}</p>}
        {verdict && verdict.state !== "stop" && (
          <>
            <Found verdict={verdict} mend={asRun} />
            <Suspects
              verdict={verdict}
              onWhatIf={trying.tried || draft.closedAt ? undefined : () => trying.start(verdict, {})}
              mend={mend}
              onOtherwise={(e) => trying.start(verdict, otherwise(e, readings, signs))}
            />
            <NextCheck verdict={verdict} onAnswer={answer} onRead={takeReading} asRun={asRun} />
            <Cleaning bench={bench} verdict={verdict} />
            <Chronic verdict={verdict} />
          </>
        )}
        {work && verdict?.state !== "stop" && (
          <RunsAndWork
            pool={bench.pool.id}
            stop={bench.stopId}
            rpm={rpm}
            work={work}
            due={verdict?.advice.action === "clean"}
          />
        )}
      </aside>
      <footer className={styles.acts}>
        {bench.visitId && !draft.corrects ? (
          <Button onClick={() => change({ corrects: bench.visitId, closing: true })}>{t("bench.correct")}</Button>
        ) : (
          <Button
            type="primary"
            size="large"
            id="open-log"
            disabled={Boolean(draft.closedAt || trying.tried)}
            onClick={() => change({ closing: true })}
          >
            <span>{t(draft.corrects ? "bench.logCorrection" : "bench.log")}</span>
            <Tool name="right" />
          </Button>
        )}
        <GoButton to={`/pools/${bench.pool.id}`}>{t("bench.record")}</GoButton>
        <span className={styles["acts-note"]} role="status" id="kept">
          {draft.closedAt ? t("bench.sending") : kept ? t("bench.kept") : t("bench.notKept")}
        </span>
      </footer>
      <LogSheet bench={bench} verdict={verdict} draft={draft} says={send.says} change={change} onLog={send.log} />
    </div>
  );
}

/** Sends a logged draft until the server has it; a mistake in it opens the sheet again. */
function useSend(
  bench: Bench,
  draft: ReturnType<typeof useDraft>["draft"],
  change: ReturnType<typeof useDraft>["change"],
  clear: () => void,
) {
  const changed = useChanged();
  const go = useNavigate();
  const [says, setSays] = useState<Record<string, string>>({});
  const save = api.useMutation("post", "/api/v1/visits");
  const waiting = Boolean(draft.closedAt) && !save.isPending && !save.isSuccess;
  // biome-ignore lint/correctness/useExhaustiveDependencies: one try a change of waiting
  useEffect(() => {
    if (!waiting) return;
    const id = setTimeout(
      () =>
        save.mutate(
          { body: asVisit(bench.stopId, draft) },
          {
            onSuccess: (v) => {
              clear();
              changed("pool");
              go(`/pools/${v.poolId}`, { state: { saved: now().toISOString() } });
            },
            onError: (e) => {
              if (mayPass(e) || (e as Problem).status === 401) return;
              const fields = fieldSays(e as Problem);
              setSays(Object.keys(fields).length ? renamed(fields) : { "": (e as Problem).detail ?? "" });
              change({ closedAt: undefined, closing: true });
            },
          },
        ),
      save.isError ? sendAgain : 0,
    );
    return () => clearTimeout(id);
  }, [waiting, save.failureCount, save.isError]);
  return {
    says,
    log: () => {
      setSays({});
      save.reset();
      change({ closing: false, closedAt: now().toISOString() });
    },
  };
}

/** A visit's findings sit one level deeper than the bench's. */
const renamed = (fields: Record<string, string>) =>
  Object.fromEntries(Object.entries(fields).map(([k, v]) => [k.replace(/^findings\./, ""), v]));

function Header({ bench }: { bench: Bench }) {
  const { t } = useTranslation();
  const p = bench.pool;
  return (
    <header className="pool">
      <div className="pool-name">
        <h1>{p.street}</h1>
        <span className="stop-no">
          {t("bench.stopOf", { n: bench.position, of: bench.of })}
          <span className={styles.wide}>, {t("bench.planned", { at: clock(bench.plannedAt) })}</span>
        </span>
        <GoButton size="small" className={styles["to-paths"]} to={`/pools/${p.id}/paths?stop=${bench.stopId}`}>
          {t("pages.paths")}
        </GoButton>
      </div>
      <p className="facts">
        <span>{measured(Math.round(p.gallons / 100) * 100, "gal")}</span>
        <span>{p.equipment}</span>
        <span>
          {p.lastCleaned ? t("bench.cleaned", { count: daysBetween(p.lastCleaned, now()) }) : t("bench.neverCleaned")}
        </span>
        {p.cleanLineAt && <span className={styles.wide}>{t("bench.cleanLine", { at: longDay(p.cleanLineAt) })}</span>}
      </p>
      <p className="gate">
        {p.accessNote && (
          <>
            <Tool name="gate" size={18} />
            {p.accessNote}
          </>
        )}
        <Where pool={p} />
        {bench.open && (
          <span className={styles["left-open"]}>
            <StateMark mark="open" />
            {t("bench.leftOpen", { name: bench.open })}
          </span>
        )}
      </p>
    </header>
  );
}

function GradeKey() {
  const { t } = useTranslation();
  return (
    <ul className={styles.key}>
      <li>
        <svg width="34" height="10" aria-hidden="true">
          <path className="expected" d="M0 5h34" />
        </svg>
        {t("grade.keyClean")}
      </li>
      <li>
        <svg width="34" height="10" aria-hidden="true">
          <path className="measured" d="M0 5h34" />
        </svg>
        {t("grade.keyToday")}
      </li>
      <li>
        <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true">
          <path className="gauge" d="M8 1.5 14.5 8 8 14.5 1.5 8Z" />
        </svg>
        {t("grade.keyGauge")}
      </li>
    </ul>
  );
}

const stateMark: Record<string, string> = {
  stop: "stop",
  reread: "act",
  sound: "fine",
  dirt: "fine",
  past: "act",
  suspect: "act",
  unsure: "open",
};

/** The answer in one line: what it is, and what to do about it. */
function OneLine({ verdict }: { verdict: NonNullable<ReturnType<typeof useVerdict>["verdict"]> }) {
  const { t } = useTranslation();
  return (
    <section className={`sec ${styles["one-line"]}`} aria-label={t("bench.oneLine")} data-state={verdict.state}>
      <a href="#suspects">
        <StateMark mark={verdict.advice.action === "clean" ? "act" : (stateMark[verdict.state] ?? "open")} />{" "}
        <b>{verdict.says}</b>
      </a>
    </section>
  );
}
