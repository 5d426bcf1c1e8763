import { Button } from "antd";
import { type ReactNode, useState } from "react";
import { useTranslation } from "react-i18next";
import type { Bench, Verdict } from "../../api/client";
import { now } from "../../parts/clock";
import { Fold } from "../../parts/fold";
import { chance, clock, figure, percent } from "../../parts/format";
import { partLater } from "../../parts/later";
import { StateMark } from "../../parts/state-mark";
import styles from "./bench.module.css";

const LoadFan = partLater(() => import("../../parts/load-fan"), 3);

type Suspect = Verdict["suspects"][number];

/** How heavy a reason is, in words; the number opens with the reason. */
function weight(w: number): string {
  const m = Math.abs(w);
  return m > 3 ? "strong" : m > 1.2 ? "fair" : "slight";
}

type Evidence = Suspect["for"][number];

/** Tries one piece of evidence otherwise, without keeping it. */
type TryOtherwise = (e: Evidence) => void;

/** The chance from which a suspect's own work is offered beside its reasons. */
const worthMending = 0.15;

interface SuspectsProps {
  verdict: Verdict;
  onWhatIf?: () => void;
  onOtherwise: TryOtherwise;
  /** The work that mends a suspect, where there is some. */
  mend: (fault: string) => ReactNode;
}

export function Suspects({ verdict, onWhatIf, onOtherwise, mend }: SuspectsProps) {
  const { t } = useTranslation();
  const [open, setOpen] = useState<string | null>(null);
  const shown = verdict.suspects.filter((s, i) => i < 3 || s.p > 0.03).slice(0, 5);
  const key = (s: Suspect) => [s.id, ...s.with.map((w) => w.id)].join("+");
  const current = open ?? (shown[0] && key(shown[0]));
  return (
    <section className="sec" id="suspects" aria-labelledby="suspects-head">
      <div className="sec-head">
        <h2 id="suspects-head">{t("suspects.title")}</h2>
        <span className="quiet">{t("suspects.other", { p: chance(verdict.other) })}</span>
      </div>
      {verdict.misfit && (
        <p className="advice">
          <StateMark mark="act" size={18} />
          <span>{verdict.misfit}</span>
        </p>
      )}
      {verdict.alike.length > 1 && (
        <p className="advice" data-alike={verdict.alike.length}>
          <StateMark mark="job" size={18} />
          <span>{t("suspects.alike", { names: verdict.alike.join(", ") })}</span>
        </p>
      )}
      <ol className="sus">
        {shown.map((s) => (
          <li
            key={key(s)}
            className={key(s) === current ? styles.open : ""}
            data-suspect={s.id}
            data-with={s.with.map((w) => w.id).join(" ") || undefined}
          >
            <button
              type="button"
              className="sus-row"
              aria-expanded={key(s) === current}
              onClick={() => setOpen(key(s))}
            >
              <span className="s-name">
                {s.name}
                {s.place && <span className={styles["s-place"]}> · {s.place}</span>}
              </span>
              <span className="s-p">
                {chance(s.p)}
                <small>%</small>
              </span>
              <span className="bar">
                <i style={{ width: `${100 * s.p}%` }} />
              </span>
            </button>
            {key(s) === current && <Reasons suspect={s} onOtherwise={onOtherwise} />}
            {key(s) === current && s.p >= worthMending && mend(s.id)}
            {key(s) === current && s.p >= worthMending && s.with.map((w) => mend(w.id))}
          </li>
        ))}
      </ol>
      {onWhatIf && (
        <Button type="link" id="what-if" onClick={onWhatIf}>
          {t("whatIf.start")}
        </Button>
      )}
    </section>
  );
}

/** Weaknesses of the pad itself, each weighed alone. */
export function Chronic({ verdict }: { verdict: Verdict }) {
  const { t } = useTranslation();
  if (!verdict.chronic.length) return null;
  return (
    <section className="sec" id="chronic" aria-labelledby="chronic-head">
      <h2 id="chronic-head">{t("suspects.chronic")}</h2>
      <ul>
        {verdict.chronic.map((c) => (
          <li key={c.id} data-finding={c.id}>
            <Fold
              head={
                <>
                  <StateMark mark="open" /> {c.name}{" "}
                  <span className="quiet">{t("suspects.likely", { p: chance(c.p) })}</span>
                </>
              }
            >
              <p>
                {c.says} <b>{t("suspects.fix")}</b> {c.fix}
              </p>
            </Fold>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Reasons({ suspect: s, onOtherwise }: { suspect: Suspect; onOtherwise: TryOtherwise }) {
  const { t } = useTranslation();
  return (
    <>
      <dl className={styles.ev}>
        {(["for", "against"] as const).map((side) =>
          s[side].length ? (
            <div key={side}>
              <dt>{t(`suspects.${side}`)}</dt>
              {s[side].slice(0, 4).map((e) => (
                <dd key={e.says}>
                  <Reason evidence={e} onOtherwise={onOtherwise} />
                </dd>
              ))}
            </div>
          ) : null,
        )}
      </dl>
      {s.id !== "healthy" && (
        <Fold head={t("suspects.whatToDo")}>
          <p>
            <b>{t("suspects.settle")}</b> {s.settle}
          </p>
          <p>
            <b>{t("suspects.fix")}</b> {s.fix} {s.minutes > 0 && t("suspects.minutes", { n: s.minutes })}
            {s.who && <b> {t("suspects.who", { who: s.who })}</b>}
          </p>
        </Fold>
      )}
      {s.caution && (
        <p className="caution">
          <StateMark mark="stop" />
          <span>{s.caution}</span>
        </p>
      )}
    </>
  );
}

/** A reason in words that opens to its numbers. */
function Reason({ evidence: e, onOtherwise }: { evidence: Evidence; onOtherwise: TryOtherwise }) {
  const { t } = useTranslation();
  const words = (
    <>
      {e.says} <span className={styles.weigh}>{t(`suspects.${weight(e.weight)}`)}</span>
    </>
  );
  const { meters: m, looks: l } = e;
  if (!m && !l) return words;
  const times = Math.exp(Math.min(12, Math.abs(e.weight)));
  return (
    <div className="reason">
      <Fold head={words}>
        <p className={styles.numbers}>
          {m &&
            t("numbers.meter", {
              read: figure(m.read, m.unit),
              fits: figure(m.fits, m.unit),
              clean: figure(m.clean, m.unit),
              sigma: figure(m.sigma, m.unit),
              unit: m.unit,
            })}
          {l && t(l.yes ? "numbers.yes" : "numbers.no", { here: chance(l.here), sound: chance(l.sound) })}{" "}
          {t(e.weight > 0 ? "numbers.likelier" : "numbers.rarer", {
            times: times >= 1000 ? "1,000+" : times >= 10 ? times.toFixed(0) : times.toFixed(1),
          })}
          <Button type="link" onClick={() => onOtherwise(e)}>
            {t(m ? "whatIf.without" : l?.yes ? "whatIf.ifNo" : "whatIf.ifYes")}
          </Button>
        </p>
      </Fold>
    </div>
  );
}

/** What differs while trying, beside what was found. */
export function WhatIf({ before, verdict, onBack }: { before: string; verdict?: Verdict; onBack: () => void }) {
  const { t } = useTranslation();
  const s = verdict?.suspects[0];
  return (
    <p className={styles["what-if"]} role="status">
      <StateMark mark="open" size={18} />
      <span>
        <b>{t("whatIf.on")}</b> {s && t("whatIf.now", { before, after: `${s.name} ${chance(s.p)} %` })}
      </span>
      <Button size="small" id="what-if-back" onClick={onBack}>
        {t("whatIf.back")}
      </Button>
    </p>
  );
}

/** Trying the fixes one after the other, the best order of it. */
function FixOrder({ verdict }: { verdict: Verdict }) {
  const { t } = useTranslation();
  if (verdict.fixOrder.length < 2) return null;
  const last = verdict.fixOrder[verdict.fixOrder.length - 1];
  return (
    <Fold head={t("fixOrder.title")} id="fix-order">
      <ol className={styles.fixes}>
        {verdict.fixOrder.map((f) => (
          <li key={f.id} data-fix={f.id}>
            {f.caution && (
              <p className="caution">
                <StateMark mark="stop" />
                <span>{f.caution}</span>
              </p>
            )}
            {f.fix}{" "}
            <span className="quiet">
              {t("fixOrder.step", { p: chance(f.p), n: f.minutes })} {f.who && t("suspects.who", { who: f.who })}
            </span>
          </li>
        ))}
      </ol>
      <p className="quiet">{t("fixOrder.mean", { n: Math.round(last.spent) })}</p>
    </Fold>
  );
}

type Next = Verdict["next"][number];

interface NextProps {
  verdict: Verdict;
  onAnswer: (id: string, yes: boolean) => void;
  onRead: (reading: NonNullable<Next["reading"]>) => void;
  asRun: (sign: string) => ReactNode;
}

export function NextCheck({ verdict, onAnswer, onRead, asRun }: NextProps) {
  const { t } = useTranslation();
  const c = verdict.next[0];
  return (
    <section className="sec" id="next" aria-labelledby="next-head" data-next={c?.reading ? "reading" : c?.sign}>
      <div className="sec-head">
        <h2 id="next-head">{t("next.title")}</h2>
        {c && <span className={styles.mins}>{t("next.minutes", { n: c.minutes < 1 ? "½" : c.minutes })}</span>}
      </div>
      {c ? (
        <>
          {c.caution && (
            <p className="caution">
              <StateMark mark="stop" />
              <span>{c.caution}</span>
            </p>
          )}
          <p className={styles.check}>{c.look}</p>
          {c.reading ? <TakeReading reading={c.reading} onRead={onRead} /> : <AskLook check={c} onAnswer={onAnswer} />}
          {!c.reading && asRun(c.sign)}
        </>
      ) : (
        <p className={styles.tells}>{t("next.nothing")}</p>
      )}
      <FixOrder verdict={verdict} />
    </section>
  );
}

function AskLook({ check: c, onAnswer }: { check: Next; onAnswer: NextProps["onAnswer"] }) {
  const { t } = useTranslation();
  return (
    <>
      <p className={styles.tells}>
        {t("next.tells", {
          sign: c.name.toLowerCase(),
          yes: c.ifYes,
          yesP: chance(c.yesP),
          no: c.ifNo,
          noP: chance(c.noP),
        })}
      </p>
      <div className={styles["answers-row"]}>
        <Button id="next-yes" onClick={() => onAnswer(c.sign, true)}>
          {t("next.yes")}
        </Button>
        <Button id="next-no" onClick={() => onAnswer(c.sign, false)}>
          {t("next.no")}
        </Button>
      </div>
    </>
  );
}

function TakeReading({ reading, onRead }: { reading: NonNullable<Next["reading"]>; onRead: NextProps["onRead"] }) {
  const { t } = useTranslation();
  return (
    <>
      <p className={styles.tells}>
        {reading.would.map((w) => t("next.would", { psi: figure(w.psi, "psi"), name: w.name })).join(" ")}
      </p>
      <div className={styles["answers-row"]}>
        <Button id="next-yes" onClick={() => onRead(reading)}>
          {t("next.take")}
        </Button>
      </div>
    </>
  );
}

const adviceMark: Record<string, string> = {
  clean: "act",
  leave: "fine",
  hold: "hold",
  "read-higher": "act",
  "fix-first": "open",
  "not-known": "open",
  stop: "stop",
};

/** Over this deviation a load past its limit is "over", and no figure. */
const vague = 0.2;

export function Cleaning({ bench, verdict }: { bench: Bench; verdict: Verdict }) {
  const { t } = useTranslation();
  const a = verdict.advice;
  const hold = bench.holdUntil;
  return (
    <section className="sec" id="cleaning" aria-labelledby="clean-head">
      <div className="sec-head">
        <h2 id="clean-head">{t("cleaning.title")}</h2>
        <span className={styles.load}>
          {t("cleaning.load")}{" "}
          {verdict.load.mean > 1 && verdict.load.sd > vague ? (
            <b>{t("cleaning.over")}</b>
          ) : (
            <>
              <b>{percent(Math.max(0, verdict.load.mean))}</b> %{" "}
              <span className="quiet">± {percent(verdict.load.sd)}</span>
            </>
          )}
        </span>
      </div>
      {bench.pad.limit && (
        <p className="quiet" id="limit-here">
          {bench.pad.limit}
        </p>
      )}
      <LoadFan points={bench.points} verdict={verdict} today={now()} next={new Date(bench.nextVisit)} />
      <p className="advice" data-advice={a.action}>
        <StateMark mark={adviceMark[a.action] ?? "open"} size={18} />
        <span>
          <b>{a.says}:</b> {a.reason}
        </span>
      </p>
      {a.action === "clean" && (
        <p className={styles.cost}>
          {t(a.gallons > 0 ? "cleaning.cost" : "cleaning.costDry", {
            minutes: a.minutes,
            gallons: figure(Math.round(a.gallons / 5) * 5, "gal"),
          })}
        </p>
      )}
      {a.lacks && <p className={styles.lacks}>{a.lacks}</p>}
      {hold && (
        <p className={styles.hold}>
          <StateMark mark={new Date(hold) > now() ? "hold" : "fine"} />
          <span>{t(new Date(hold) > now() ? "cleaning.holdUntil" : "cleaning.holdOver", { at: clock(hold) })}</span>
        </p>
      )}
      <Fold head={t("cleaning.why")}>
        <p>
          {t("cleaning.whyText", {
            observed: verdict.known
              ? `${percent(Math.max(0, verdict.observed.mean))} ± ${percent(verdict.observed.sd)} %`
              : t("cleaning.notRead"),
            forecast: `${percent(Math.max(0, bench.forecast.mean))} ± ${percent(bench.forecast.sd)} %`,
            perDay: bench.pad.kgalPerDay.toFixed(1),
          })}
        </p>
      </Fold>
    </section>
  );
}
