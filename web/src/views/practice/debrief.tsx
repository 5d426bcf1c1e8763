import { Slider } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { PracticeDebrief, PracticeView } from "../../api/client";
import { DataTable } from "../../parts/data-table";
import { chance, figure, measured, money, percent } from "../../parts/format";
import { GoButton } from "../../parts/go-button";
import { partLater } from "../../parts/later";
import { PadDrawing } from "../../parts/pad-drawing";
import { StateMark } from "../../parts/state-mark";
import styles from "./practice.module.css";

const GradeLine = partLater(() => import("../../parts/grade-line"), 6);

/** What was wrong, the path beside the best one, and what would have told apart what was mixed up. */
export default function Debrief({ view, debrief: d }: { view: PracticeView; debrief: PracticeDebrief }) {
  const { t } = useTranslation();
  return (
    <div className={styles.debrief} id="practice-debrief" data-solved={d.solved}>
      <p className={`lead state-line ${styles.verdict}`}>
        <StateMark mark={d.hurt ? "stop" : d.solved ? "fine" : "act"} size={26} />
        <b>{t(d.hurt ? "practice.hurt" : d.solved ? "practice.solved" : "practice.unsolved")}</b>
      </p>
      <section aria-labelledby="debrief-was">
        <h2 id="debrief-was">{t("practice.was")}</h2>
        {d.was.length === 0 && <p>{t("practice.wasNothing")}</p>}
        <ul className={styles.was}>
          {d.was.map((w) => (
            <li key={w.id} data-was={w.id}>
              <b>{w.name}</b> {w.place}
              <span className="quiet">
                {t(w.mended ? "practice.mended" : "practice.left")} {w.fix} {w.who && t("practice.who", { who: w.who })}
              </span>
            </li>
          ))}
        </ul>
        {d.lesson && <p className={styles.lesson}>{d.lesson}</p>}
      </section>
      {d.harms.map((h) => (
        <div className="danger" key={h.turn} data-harm={h.turn}>
          <StateMark mark="stop" size={26} />
          <p>
            <b>{h.did}.</b> {h.says} <span>{h.why}</span>
          </p>
        </div>
      ))}
      <Costs debrief={d} />
      <Parted debrief={d} />
      <Replay debrief={d} />
      <section aria-labelledby="debrief-better">
        <h2 id="debrief-better">{t("practice.better")}</h2>
        <ol className={styles.steps}>
          {d.better.map((s, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: steps in order
            <li key={i}>
              <span className="n">{figure(s.minutes, "min")}</span>
              <span>
                <b>{s.did}</b> {s.told.join(" ")}
              </span>
            </li>
          ))}
        </ol>
      </section>
      {d.brier != null && (
        <p>{t("practice.brierHere", { brier: d.brier.toFixed(2), mode: t(`practice.mode.${view.mode}`) })}</p>
      )}
      <GoButton type="primary" size="large" to="/practice">
        {t("practice.nextCase")}
      </GoButton>
    </div>
  );
}

/** Both ways in minutes, water, money and what went wrong. */
function Costs({ debrief: d }: { debrief: PracticeDebrief }) {
  const { t } = useTranslation();
  const rows = [
    { key: "minutes", name: t("practice.minutes"), of: (c: PracticeDebrief["yours"]) => figure(c.minutes, "min") },
    { key: "water", name: t("practice.water"), of: (c: PracticeDebrief["yours"]) => measured(c.gallons, "gal") },
    { key: "money", name: t("practice.money"), of: (c: PracticeDebrief["yours"]) => money(c.dollars) },
    { key: "wrong", name: t("practice.wrong"), of: (c: PracticeDebrief["yours"]) => String(c.wrong) },
    { key: "harms", name: t("practice.dangers"), of: (c: PracticeDebrief["yours"]) => String(c.harms) },
    { key: "left", name: t("practice.leftThere"), of: (c: PracticeDebrief["yours"]) => String(c.left) },
    { key: "all", name: t("practice.all"), of: (c: PracticeDebrief["yours"]) => figure(c.all, "min") },
  ];
  return (
    <section aria-labelledby="debrief-costs">
      <h2 id="debrief-costs">{t("practice.costs")}</h2>
      <DataTable
        name="debrief-table"
        label={t("practice.costs")}
        rows={rows}
        keyOf={(r) => r.key}
        attrs={(r) => ({ "data-cost": r.key })}
        columns={[
          { key: "what", title: t("practice.what"), head: true, cell: (r) => r.name },
          { key: "yours", title: t("practice.yourWay"), cell: (r) => <span className="fig">{r.of(d.yours)}</span> },
          { key: "best", title: t("practice.bestWay"), cell: (r) => <span className="n">{r.of(d.best)}</span> },
        ]}
      />
      <p className="quiet">{t("practice.allHow")}</p>
    </section>
  );
}

/** The look that parts what was taken for each other. */
function Parted({ debrief: d }: { debrief: PracticeDebrief }) {
  const { t } = useTranslation();
  if (d.parted.length === 0) return null;
  return (
    <section aria-labelledby="debrief-parted">
      <h2 id="debrief-parted">{t("practice.partedBy")}</h2>
      <ul className={styles.was}>
        {d.parted.map((p) => (
          <li key={p.this + p.that} data-parts={p.sign}>
            <b>{t("practice.orThat", { one: p.this, other: p.that })}</b>
            <span>
              {p.name}. {p.look}
            </span>
            <span className="quiet">
              {t("practice.partedHow", {
                minutes: figure(p.minutes, "min"),
                one: p.this,
                other: p.that,
                here: percent(p.ifThis),
                there: percent(p.ifThat),
              })}{" "}
              {t(p.made ? "practice.partedMade" : "practice.partedNot")}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The path step by step: what each told, what the engine made of it, and the grade line then. */
function Replay({ debrief: d }: { debrief: PracticeDebrief }) {
  const { t } = useTranslation();
  const [at, setAt] = useState(0);
  const step = d.path[Math.min(at, d.path.length - 1)];
  if (!step) return null;
  return (
    <section aria-labelledby="debrief-replay" id="practice-replay">
      <h2 id="debrief-replay">{t("practice.replay")}</h2>
      {d.path.length > 1 && (
        <Slider
          min={0}
          max={d.path.length - 1}
          value={at}
          onChange={setAt}
          ariaLabelForHandle={t("practice.replayStep")}
          tooltip={{ formatter: (n) => t("practice.step", { n: (n ?? 0) + 1, of: d.path.length }) }}
        />
      )}
      <p className={styles.step} data-at={at}>
        <span className="n">{t("practice.atMinute", { minutes: figure(step.minutes, "min") })}</span> <b>{step.did}</b>{" "}
        {step.told.join(" ")}
      </p>
      <p>
        {t("practice.then", { name: step.top, p: chance(step.topP), was: chance(step.p) })}{" "}
        {step.bits > 0.05 && <span className="quiet">{t("practice.bits", { bits: step.bits.toFixed(1) })}</span>}
      </p>
      <div className={styles.drawn}>
        <PadDrawing doc={d.pad} paths={step.paths} label={t("practice.drawing")} />
      </div>
      {step.grade && step.reading && (
        <GradeLine grade={step.grade} reading={step.reading} suctionWords={d.facts?.suctionWords ?? ""} table={false} />
      )}
    </section>
  );
}
