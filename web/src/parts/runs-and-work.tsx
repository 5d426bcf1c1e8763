import { useEffect, useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api, type Findings, type PoolWork, type RunBrief } from "../api/client";
import { useRunsHere } from "../kept/runs-here";
import { Choice } from "./choice-later";
import { clock, day } from "./format";
import styles from "./runs-and-work.module.css";
import { StartRun } from "./start-run";
import { StateMark } from "./state-mark";

/** A pool's work, and how many of its runs have steps on this device alone. */
export interface Work extends PoolWork {
  here: number;
}

/** The work that suits a pool's pad, and its runs; those of one stop where it is given. */
export function useWork(pool: string, stop?: string): Work | undefined {
  const { data } = api.useQuery("get", "/api/v1/pools/{id}/work", { params: { path: { id: pool }, query: { stop } } });
  const here = useRunsHere(pool, stop);
  return useMemo(() => data && { ...data, runs: joined(data.runs, here), here: here.length }, [data, here]);
}

/** The runs on record, and over them those whose steps are still on this device. */
const joined = (onRecord: RunBrief[], here: RunBrief[]): RunBrief[] =>
  here.length === 0 ? onRecord : [...here, ...onRecord.filter((r) => here.every((h) => h.id !== r.id))];

/** How far runs came, in a word: another one, and what follows from them is another. */
export const cameTo = (work: Work | undefined): string =>
  work?.runs.length
    ? `${work.here} ${work.runs.map((r) => [r.id, r.step, r.left ?? "", r.ended ?? ""].join(":")).join(" ")}`
    : "";

/** How long a log waits for the stop's runs, so that what they did is in it. */
const patience = 4000;

/** Whether a stop's runs are being asked for; a slow line is not waited for. */
export function useRunsComing(pool: string, stop?: string): boolean {
  const { fetchStatus } = api.useQuery("get", "/api/v1/pools/{id}/work", {
    params: { path: { id: pool }, query: { stop } },
  });
  const [late, setLate] = useState(false);
  const asking = fetchStatus === "fetching";
  useEffect(() => {
    setLate(false);
    if (!asking) return;
    const timer = setTimeout(() => setLate(true), patience);
    return () => clearTimeout(timer);
  }, [asking]);
  return asking && !late;
}

interface Props {
  pool: string;
  stop?: string;
  rpm?: number | null;
  work: PoolWork;
  findings?: Findings;
  /** The filter is to be cleaned now. */
  due?: boolean;
}

/** Runs, the work that is advised, and all other work. */
export function RunsAndWork({ pool, stop, rpm, work, findings, due }: Props) {
  const { t } = useTranslation();
  const [other, setOther] = useState("");
  const cleaning = work.procedures.find((p) => p.item === "clean-filter");
  const chosen = work.procedures.find((p) => p.id === other);
  const start = { pool, stop, rpm, work, findings };
  return (
    <section className="sec sec-work" id="work" aria-labelledby="work-head">
      <div className="sec-head">
        <h2 id="work-head">{t("run.work")}</h2>
      </div>
      {work.runs.map((r) => (
        <RunLine key={r.id} run={r} dated={!stop} />
      ))}
      {due && cleaning && !work.runs.some((r) => r.result.work === "cleaned") && (
        <StartRun {...start} procedure={cleaning} main />
      )}
      <div className="line">
        <label htmlFor="other-work">{t("run.other")}</label>
        <Choice
          id="other-work"
          value={other}
          options={[
            { value: "", label: t("run.choose") },
            ...work.procedures.map((p) => ({ value: p.id as string, label: p.name })),
          ]}
          onChange={setOther}
        />
      </div>
      {chosen && <StartRun key={chosen.id} {...start} procedure={chosen} />}
    </section>
  );
}

/** One run in a list: how it stands, and the way into it. */
export function RunLine({ run: r, dated }: { run: RunBrief; dated?: boolean }) {
  const { t } = useTranslation();
  const state = !r.ended ? (r.left ? "left" : "goingAt") : r.why ? "stopped" : "ended";
  const mark = { left: "open", goingAt: "act", stopped: "open", ended: "fine" }[state];
  return (
    <p className={styles["run-line"]} data-run-state={state}>
      <StateMark mark={mark} />
      <span>
        <Link to={`/runs/${r.id}`}>
          <b>{r.name}</b>
        </Link>{" "}
        <span className="quiet">
          {dated && `${day(r.startedAt)}, `}
          {clock(r.startedAt)} · {t(`run.${state}`, { n: r.step + 1, of: r.of })}
        </span>
      </span>
    </p>
  );
}
