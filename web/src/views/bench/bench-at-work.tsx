import { Button, Segmented } from "antd";
import { useDeferredValue, useEffect, useMemo, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link, useLocation } from "react-router";
import { type Bench, type Findings, http, type PoolWork } from "../../api/client";
import { useMe } from "../../frame/me";
import { now } from "../../parts/clock";
import { Tool } from "../../parts/glyphs";
import { GoButton } from "../../parts/go-button";
import { overLater } from "../../parts/later";
import { OpenStates } from "../../parts/open-states";
import { PumpPlate } from "../../parts/pump-plate";
import { cameTo, RunsAndWork, useWork } from "../../parts/runs-and-work";
import { StartRun } from "../../parts/start-run";
import { StateMark } from "../../parts/state-mark";
import { Undescribed } from "../../parts/undescribed";
import { useWide } from "../../parts/use-wide";
import { emptyReading, findingsOf, stamped } from "../../parts/visit-draft";
import { workOf } from "../../parts/work-of";
import styles from "./bench.module.css";
import { useDraft, useSaved } from "./draft";
import { Earlier } from "./earlier";
import { Found } from "./found";
import { GradeSection } from "./grade-section";
import { Chronic, Cleaning, NextCheck, Suspects, WhatIf } from "./judge";
import { useBenchKeys } from "./keys";
import { OneLine } from "./one-line";
import { Readings } from "./readings";
import { Saved, useNextStop } from "./saved";
import { Signs } from "./signs";
import { StopFile } from "./stop-file";
import { StopHead } from "./stop-head";
import { takeOver } from "./take-over";
import { useSend } from "./use-send";
import { useVerdict } from "./use-verdict";
import { otherwise, useWhatIf } from "./what-if";

const LogSheet = overLater(() => import("./log-sheet"));

/** The code of a heater that is hot, as the engine calls it. */
const heaterDanger = "heater-hot";

/** The answers with one more: an earlier one stays, since work may have come between. */
function answered(f: Findings, sign: string, yes: boolean, at: string): NonNullable<Findings["seen"]> {
  const before = f.seen ?? [];
  const known = before.some((x) => x.sign === sign);
  const first = !known && sign in f.signs ? [{ sign, yes: f.signs[sign], at: f.signsAt?.[sign] }] : [];
  return [...before, ...first, { sign, yes, at }].slice(-200);
}

type Tab = "suspects" | "seen" | "grade" | "clean" | "before";

/** A stop at work: what is read and seen, what it means, what to do about it. */
export function BenchAtWork({ bench }: { bench: Bench }) {
  const { t } = useTranslation();
  const me = useMe();
  const wide = useWide();
  const [tab, setTab] = useState<Tab>(bench.pad.described ? "suspects" : "seen");
  const kept = useDraft(bench.stopId);
  const { draft, change } = kept;
  const { readings: typed, signs: signsTyped, signsAt, seen, called, said, works, after, cleanedAt } = draft;
  const state = useLocation().state as { called?: boolean } | null;
  // Opened because somebody called: said once, and taken back by a tap.
  const callOut = Boolean(state?.called);
  useEffect(() => {
    if (callOut && called === undefined) change({ called: true });
  }, [callOut, called, change]);
  const found = useMemo(
    () => findingsOf({ readings: typed, signs: signsTyped, signsAt, seen, called, said, works, after, cleanedAt }),
    [typed, signsTyped, signsAt, seen, called, said, works, after, cleanedAt],
  );
  const trying = useWhatIf(found);
  const findings = trying.tried ?? found;
  const { readings, signs } = findings;
  /** What is read and seen goes to the draft, or nowhere while trying. */
  const find = (part: Partial<Findings>) => (trying.tried ? trying.change(part) : change(part));
  const work = useWork(bench.pool.id, bench.stopId);
  const { verdict, stale, says, trouble, retry } = useVerdict(bench, findings, cameTo(work));
  const send = useSend(bench, kept);
  useBenchKeys(bench.stopId);
  /** What lies under a phone's first screen is drawn after it. */
  const below = useDeferredValue(true, wide);
  const taken = work && !bench.visitId && !draft.closedAt ? takeOver(draft, work.runs) : undefined;
  useEffect(() => {
    if (taken) change(taken);
  }, [taken, change]);
  // What was read before work is done with: the next reading has a row of its own.
  const past = verdict?.readings.filter((r) => r.before && r.row >= 0).length ?? 0;
  const allPast = !stale && !trying.tried && past > 0 && past === typed.length;
  useEffect(() => {
    if (allPast) change({ readings: [...typed, emptyReading()] });
  }, [allPast, typed, change]);
  const rpm = Number.parseFloat(readings.findLast((r) => r.speed)?.speed.replace(/[,\s]/g, "") ?? "") || null;
  const answer = (id: string, yes: boolean | undefined) => {
    const { [id]: _, ...rest } = signs;
    const at = now().toISOString();
    find({
      signs: yes === undefined ? rest : { ...rest, [id]: yes },
      signsAt: { ...findings.signsAt, [id]: at },
      seen: yes === undefined ? findings.seen?.filter((x) => x.sign !== id) : answered(findings, id, yes, at),
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
      readings: stands.readings.map((r, i) => (i === row ? { ...data.readings[0], setting: r.setting } : r)),
      signs: { ...data.signs, ...stands.signs },
    }));
  };
  /** Work as a guided run, where there is some. */
  const startOf = (p: PoolWork["procedures"][number] | undefined, label?: string) =>
    work && p ? (
      <StartRun
        key={p.id}
        pool={bench.pool.id}
        stop={bench.stopId}
        rpm={rpm}
        work={work}
        procedure={p}
        findings={found}
        label={label ?? `${t("run.asRun")}: ${p.name}`}
      />
    ) : null;
  const asRun = (sign: string) => startOf(work?.procedures.find((p) => p.checks.includes(sign)));
  const mend = (fault: string) => {
    const { fixes, checks } = workOf(work, fault);
    return (
      <>
        {fixes && startOf(fixes, t("run.fixes", { work: fixes.name }))}
        {checks && startOf(checks, t("run.checks", { work: checks.name }))}
      </>
    );
  };
  const bound = verdict?.state === "stop";
  const described = bench.pad.described;
  const cools = verdict?.dangers.some((d) => d.code === heaterDanger);
  const coolDown = work?.procedures.find((p) => p.id === "cool-down");
  const just = useSaved(bench.stopId);
  const saved = !draft.corrects && just.saved?.visit === bench.visitId ? just.saved : undefined;
  useEffect(() => {
    if (saved) window.scrollTo(0, 0);
  }, [saved]);
  const openTab = (what: Tab) => {
    setTab(what);
    requestAnimationFrame(() =>
      document.getElementById(wide ? what : "stop-tabs")?.scrollIntoView({ block: "start", behavior: "instant" }),
    );
  };

  const answeredWords = useRef(0);
  if (!stale) answeredWords.current = said?.length ?? 0;
  // What was just said shows at once, and without an answer too; never an older word over what a job made.
  const word = (said?.length ?? 0) > answeredWords.current ? said?.at(-1) : undefined;
  const stop = verdict && word ? { ...verdict.stop, pump: word.pump, says: "", rpm: 0 } : verdict?.stop;
  const plate = (
    <PumpPlate
      stop={stop}
      onState={(pump) => change({ said: [...(said ?? []), { at: now().toISOString(), by: me.name, pump }] })}
    />
  );
  const first = (
    <>
      {trying.tried && <WhatIf before={trying.before} verdict={verdict} onBack={trying.stop} />}
      {verdict?.dangers.map((d) => (
        <p key={d.code} className={`danger ${d.stop ? "stop" : ""}`} role="alert">
          <StateMark mark="stop" size={22} />
          <b>{d.says}</b>
        </p>
      ))}
      {cools && !bench.visitId && startOf(coolDown)}
      {!described && <Undescribed pool={bench.pool.id} />}
      {!bench.visitId && <OpenStates stop={verdict?.stop} />}
      {saved && <Saved saved={saved} clear={just.clear} change={change} />}
      {bench.visitId && !draft.corrects && !saved && (
        <p className={styles.logged}>
          <StateMark mark="fine" />
          <span>
            {t("bench.logged")} <Link to={`/visits/${bench.visitId}`}>{t("bench.openVisit")}</Link>
          </span>
        </p>
      )}
    </>
  );
  const readingsPart = (
    <Readings
      bench={bench}
      readings={readings}
      verdict={verdict}
      says={says}
      onChange={(is) => find({ readings: stamped(readings, is) })}
      onDemo={me.demo && !trying.tried ? readDemo : undefined}
    />
  );
  const grade = described && <GradeSection bench={bench} verdict={verdict} />;
  const seenPart = (
    <>
      <Signs signs={bench.signs} answers={signs} onAnswer={answer} />
      <Button
        id="called"
        className={styles.called}
        type={findings.called ? "primary" : "dashed"}
        aria-pressed={Boolean(findings.called)}
        onClick={() => find({ called: !findings.called })}
      >
        {t("bench.called")}
      </Button>
    </>
  );
  const notices = bench.notices.length > 0 && (
    <section className="sec" aria-label={t("bench.notices")} id="notices">
      {bench.notices.map((n) => (
        <p key={n} className="advice">
          <StateMark mark="job" />
          <span>{n}</span>
        </p>
      ))}
    </section>
  );
  const troublePart = trouble && (
    <p className="advice" role="alert">
      <StateMark mark="act" />
      <span>
        {trouble.status ? trouble.detail : t("state.offline")}{" "}
        <Button type="link" size="small" onClick={retry}>
          {t("state.retry")}
        </Button>
      </span>
    </p>
  );
  const boundPart = bound && <p className={styles.bound}>{t("bench.bound")}</p>;
  const free = verdict && !bound ? verdict : undefined;
  const suspects = free && (
    <>
      <Found verdict={free} mend={asRun} />
      {described && (
        <Suspects
          verdict={free}
          onWhatIf={trying.tried || draft.closedAt ? undefined : () => trying.start(free, {})}
          mend={mend}
          onOtherwise={(e) => trying.start(free, otherwise(e, readings, signs))}
        />
      )}
    </>
  );
  const headline = verdict && (described || bound) && <OneLine verdict={verdict} onOpen={openTab} />;
  const next = free && described && <NextCheck verdict={free} onAnswer={answer} onRead={takeReading} asRun={asRun} />;
  const clean = free && <Cleaning bench={bench} verdict={free} />;
  const chronic = free && described && <Chronic verdict={free} />;
  const workPart = below && work && !bound && described && (
    <RunsAndWork
      pool={bench.pool.id}
      stop={bench.stopId}
      rpm={rpm}
      work={work}
      findings={found}
      due={verdict?.advice.action === "clean"}
    />
  );
  const tabs: { key: Tab; children: React.ReactNode }[] = [
    ...(described
      ? [
          {
            key: "suspects" as const,
            children: (
              <>
                {suspects}
                {chronic}
              </>
            ),
          },
        ]
      : []),
    { key: "seen", children: seenPart },
    { key: "clean", children: clean },
    ...(described ? [{ key: "grade" as const, children: grade }] : []),
    { key: "before", children: <Earlier pool={bench.pool.id} /> },
  ];
  return (
    <div className={`frame ${styles.bench}`} data-stop-state={bench.visitId ? "logged" : "open"} data-stale={stale}>
      {wide ? (
        <>
          <StopHead bench={bench} />
          {plate}
          <main className={styles.work} id="page">
            {first}
            {readingsPart}
            <div className={stale ? "stale" : ""}>{headline}</div>
            {grade}
            {seenPart}
            {notices}
          </main>
          <aside className={`${styles.judge} ${stale ? "stale" : ""}`} aria-live="polite" aria-busy={stale}>
            {troublePart}
            {boundPart}
            {suspects}
            {next}
            {clean}
            {chronic}
            {workPart}
            {below && <StopFile bench={bench} findings={found} />}
          </aside>
        </>
      ) : (
        <main className={styles.stop} id="page">
          <StopHead bench={bench} />
          {plate}
          {first}
          {readingsPart}
          <div className={stale ? "stale" : ""} aria-live="polite" aria-busy={stale}>
            {troublePart}
            {headline}
            {boundPart}
            {!described && suspects}
            {next}
          </div>
          {workPart}
          <div className={styles.tabs} id="stop-tabs">
            <Segmented
              block
              aria-label={t("bench.tabs")}
              value={tab}
              options={tabs.map(({ key }) => ({
                value: key,
                label: <span data-tab={key}>{t(`bench.tab.${key}`)}</span>,
              }))}
              onChange={setTab}
            />
          </div>
          {below && <div data-tab-of={tab}>{tabs.find((x) => x.key === tab)?.children}</div>}
          {notices}
          {below && <StopFile bench={bench} findings={found} />}
        </main>
      )}
      <Acts bench={bench} kept={kept} saved={Boolean(saved)} trying={Boolean(trying.tried)} />
      <LogSheet
        open={draft.closing}
        bench={bench}
        verdict={verdict}
        draft={draft}
        says={send.says}
        change={change}
        onLog={send.log}
      />
    </div>
  );
}

/** The stop's main action, above the bar on a phone: log it, correct it, or go on to the next. */
function Acts({
  bench,
  kept: { draft, change, kept },
  saved,
  trying,
}: {
  bench: Bench;
  kept: ReturnType<typeof useDraft>;
  saved: boolean;
  trying: boolean;
}) {
  const { t } = useTranslation();
  const next = useNextStop(bench.stopId);
  const logged = bench.visitId && !draft.corrects;
  const correct = () => change({ corrects: bench.visitId, closing: true });
  return (
    <footer className={styles.acts}>
      {!logged && (
        <Button
          type="primary"
          size="large"
          id="open-log"
          className={styles.main}
          disabled={Boolean(draft.closedAt || trying)}
          onClick={() => change({ closing: true })}
        >
          <span>{t(draft.corrects ? "bench.logCorrection" : "bench.log")}</span>
          <Tool name="right" />
        </Button>
      )}
      {logged && next !== undefined && (
        <GoButton
          type="primary"
          size="large"
          id="next-stop"
          className={styles.main}
          to={next ? `/stops/${next.id}` : "/"}
        >
          <span>{next ? t("saved.next", { street: next.street }) : t("saved.dayDone")}</span>
          <Tool name="right" />
        </GoButton>
      )}
      {logged && (
        <Button id="correct" onClick={correct}>
          {t("bench.correct")}
        </Button>
      )}
      {!saved && (
        <span className={styles["acts-note"]} role="status" id="kept">
          {draft.closedAt ? t("bench.sending") : kept ? t("bench.kept") : t("bench.notKept")}
        </span>
      )}
    </footer>
  );
}
