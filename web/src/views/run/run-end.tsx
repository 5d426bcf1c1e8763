import { Button } from "antd";
import { useMemo, useState } from "react";
import { useTranslation } from "react-i18next";
import { v7 as uuid } from "uuid";
import {
  api,
  type Bench,
  fieldSays,
  type Problem,
  type RunView,
  type TypedReading,
  type Verdict,
} from "../../api/client";
import { DataTable } from "../../parts/data-table";
import { clock, day, figure } from "../../parts/format";
import { GoButton } from "../../parts/go-button";
import { OpenStates } from "../../parts/open-states";
import { cameTo, useWork } from "../../parts/runs-and-work";
import { StateMark } from "../../parts/state-mark";
import { markOf } from "../../parts/verdict-mark";
import { findingsOf } from "../../parts/visit-draft";
import { useDraft } from "../bench/draft";
import { useVerdict } from "../bench/use-verdict";
import styles from "./run.module.css";
import { readingWords } from "./steps-done";
import { clockOf } from "./timer";

/** How many speeds make a clean line. */
const lineOf = 3;

/** What a run came to, and where it goes. */
export function RunEnd({ run }: { run: RunView }) {
  const { t } = useTranslation();
  const r = run.result;
  const facts: [string, string][] = [];
  if (r.before) facts.push([t("run.before"), readingWords(r.before)]);
  if (r.after) facts.push([t("run.after"), readingWords(r.after)]);
  if (r.wasteSeconds > 0) {
    const gallons =
      r.wasteGallons > 0 ? t("run.about", { gallons: figure(Math.round(r.wasteGallons / 5) * 5, "gal") }) : "";
    facts.push([t("run.waste"), `${clockOf(r.wasteSeconds)} ${gallons}`]);
  }
  if (r.primeSeconds > 0) facts.push([t("run.prime"), clockOf(r.primeSeconds)]);
  if (r.drainBefore > 0) facts.push([t("run.drainBefore"), clockOf(r.drainBefore)]);
  if (r.drainSeconds > 0) facts.push([t("run.drain"), clockOf(r.drainSeconds)]);
  if (r.chemicalsAt) facts.push([t("run.chemicals"), clock(r.chemicalsAt)]);
  return (
    <section className={`${styles.now} run-end`} aria-labelledby="end-head">
      <h2 className={styles.ask} id="end-head">
        {run.why ? t("run.endedEarly") : t("run.finished")}
      </h2>
      <p className="quiet">
        {day(run.startedAt)}, {clock(run.startedAt)}–{clock(run.ended ?? run.startedAt)} · {run.by}
      </p>
      {run.why && (
        <p className="advice">
          <StateMark mark="open" size={18} />
          <span>{run.why}</span>
        </p>
      )}
      {run.stopId ? <AtStop stop={run.stopId} pool={run.poolId} /> : run.verdict && <Answer verdict={run.verdict} />}
      {facts.length > 0 && (
        <dl className={styles["run-facts"]}>
          {facts.map(([k, v]) => (
            <div key={k}>
              <dt>{k}</dt>
              <dd>{v}</dd>
            </div>
          ))}
        </dl>
      )}
      {r.bare.length > 0 && <SideBySide bare={r.bare} charged={r.walk} />}
      {r.parts.length > 0 && (
        <p className="advice" id="run-parts">
          <StateMark mark="act" size={18} />
          <span>{t("run.partsOwed", { parts: r.parts.map((p) => t(`run.part.${p}`)).join(", ") })}</span>
        </p>
      )}
      {r.walk.length >= lineOf && <KeepLine run={run} />}
      {run.stopId ? (
        <>
          <p>{t("run.intoVisit")}</p>
          <GoButton type="primary" size="large" id="run-to-stop" to={`/stops/${run.stopId}`}>
            {t("run.toStop")}
          </GoButton>
        </>
      ) : (
        <GoButton type="primary" size="large" to={`/pools/${run.poolId}`}>
          {t("bench.record")}
        </GoButton>
      )}
    </section>
  );
}

/** The answer of the stop, as its bench has it: a run has none of its own. */
function AtStop({ stop, pool }: { stop: string; pool: string }) {
  const { data } = api.useQuery("get", "/api/v1/stops/{id}", { params: { path: { id: stop } } });
  return data ? <OfBench bench={data} pool={pool} /> : null;
}

function OfBench({ bench, pool }: { bench: Bench; pool: string }) {
  const { draft } = useDraft(bench.stopId);
  const work = useWork(pool, bench.stopId);
  const findings = useMemo(() => findingsOf(draft), [draft]);
  const { verdict, stale } = useVerdict(bench, findings, cameTo(work));
  return verdict && !stale ? <Answer verdict={verdict} /> : null;
}

function Answer({ verdict }: { verdict: Verdict }) {
  return (
    <>
      {verdict.dangers.map((d) => (
        <p key={d.code} className={`danger ${d.stop ? "stop" : ""}`} role="alert">
          <StateMark mark="stop" size={22} />
          <b>{d.says}</b>
        </p>
      ))}
      <p className="advice" id="run-outcome" data-state={verdict.state}>
        <StateMark mark={markOf(verdict)} size={18} />
        <span>
          <b>{verdict.says}</b> {verdict.advice.reason}
        </span>
      </p>
      <OpenStates stop={verdict.stop} />
    </>
  );
}

/** The pad without its charge beside the pad with it, speed by speed. */
function SideBySide({ bare, charged }: { bare: RunView["result"]["bare"]; charged: RunView["result"]["walk"] }) {
  const { t } = useTranslation();
  return (
    <DataTable
      name="run-bare"
      label={t("run.bare")}
      rows={bare}
      keyOf={(b) => b.rpm}
      columns={[
        { key: "bare", title: t("run.bare"), cell: readingWords },
        {
          key: "charged",
          title: t("run.charged"),
          cell: (b) => charged.filter((c) => c.rpm === b.rpm).map(readingWords)[0] ?? "–",
        },
      ]}
    />
  );
}

/** Readings at enough speeds right after a cleaning are offered as the pad's clean line. */
function KeepLine({ run }: { run: RunView }) {
  const { t } = useTranslation();
  const save = api.useMutation("post", "/api/v1/pools/{id}/clean-lines");
  const [id] = useState(() => uuid());
  const says = Object.values(fieldSays(save.error as Problem | null))[0] ?? (save.error as Problem | null)?.detail;
  const readings: TypedReading[] = run.result.walk.map((w) => ({
    speed: String(w.rpm),
    tank: w.tankPsi?.toString() ?? "",
    vacuum: w.vacuumInHg?.toString() ?? "",
    flow: w.flowGpm?.toString() ?? "",
    power: w.powerW?.toString() ?? "",
  }));
  if (save.isSuccess)
    return (
      <p className="advice">
        <StateMark mark="fine" />
        <span>{t("run.lineKept")}</span>
      </p>
    );
  return (
    <div className={styles["keep-line"]}>
      <p>{t("run.lineOffer", { count: readings.length })}</p>
      <Button
        id="keep-line"
        disabled={save.isPending}
        onClick={() =>
          save.mutate({
            params: { path: { id: run.poolId } },
            body: { id, takenAt: run.ended ?? run.startedAt, note: run.name, readings },
          })
        }
      >
        {t("run.lineKeep")}
      </Button>
      {says && (
        <p className="field-says" role="alert">
          {says}
        </p>
      )}
    </div>
  );
}
