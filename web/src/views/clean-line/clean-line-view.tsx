import { Button, Segmented } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { v7 as uuid } from "uuid";
import {
  api,
  fieldSays,
  http,
  type PadOnRecord,
  type Problem,
  type TypedReading,
  type WalkFit,
} from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { PadPage } from "../../frame/pad-page";
import { PoolPages } from "../../frame/pool-pages";
import { useKept } from "../../kept/use-kept";
import { now } from "../../parts/clock";
import { DataTable } from "../../parts/data-table";
import { FigureField } from "../../parts/figure-field";
import { FileField, FileSays } from "../../parts/file-field";
import { figure, longDay, percent, unitOf } from "../../parts/format";
import { Tool } from "../../parts/glyphs";
import { Loading, Trouble } from "../../parts/quiet-states";
import { StateMark } from "../../parts/state-mark";
import { useSettled } from "../../parts/use-settled";
import { WordsField } from "../../parts/words-field";
import styles from "./clean-line.module.css";
import { WalkChart } from "./walk-chart";

/** How long a pad takes to settle at a new speed, s. */
const settling = 120;

interface Step extends TypedReading {
  /** When the pump was said to run at this speed. */
  since?: string;
}

interface WalkDraft {
  id: string;
  steps: Step[];
  note: string;
}

const emptyStep = (speed: string): Step => ({ speed, tank: "", vacuum: "", flow: "", power: "" });

/** The speeds worth walking: a low one, two between, the top. */
function usualSpeeds(doc: PadOnRecord["document"]): number[] {
  const { kind, topRpm, leastRpm } = doc.pump;
  if (kind === "single") return [topRpm];
  if (kind === "two") return [leastRpm, topRpm];
  return [0.45, 0.65, 0.85, 1].map((s) => Math.round((topRpm * s) / 50) * 50);
}

export function CleanLineView() {
  return <PadPage of={(pad) => <Walk key={pad.poolId} pad={pad} />} />;
}

const typed = (steps: Step[]): TypedReading[] => steps.map(({ since: _, ...r }) => r);

function Walk({ pad }: { pad: PadOnRecord }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const go = useNavigate();
  const [begin] = useState(
    () => (): WalkDraft => ({
      id: uuid(),
      steps: usualSpeeds(pad.document).map((s) => emptyStep(String(s))),
      note: "",
    }),
  );
  const { value: walk, change, clear, kept } = useKept<WalkDraft>("walk", pad.poolId, begin);
  const [fileSays, setFileSays] = useState<Record<string, string>>({});
  const rows = useSettled(walk.steps);
  const fit = api.useQuery(
    "post",
    "/api/v1/pools/{id}/walk",
    { params: { path: { id: pad.poolId } }, body: { readings: typed(rows) } },
    { staleTime: 60_000, placeholderData: (before: WalkFit | undefined) => before },
  );
  const save = api.useMutation("post", "/api/v1/pools/{id}/clean-lines");
  // A walk that could not be kept is kept again; one that could not be fitted is only asked again.
  const problem = (save.error ?? (fit.isError ? fit.error : null)) as Problem | null;
  const again = () => (save.isError ? put() : fit.refetch());
  const says = fieldSays(problem);
  const set = (i: number, part: Partial<Step>) => {
    save.reset();
    change({ steps: walk.steps.map((s, j) => (i === j ? { ...s, ...part } : s)) });
  };
  const readFile = async (text: string) => {
    const { data, error } = await http.POST("/api/v1/walks/read", { body: { text } });
    setFileSays(error ? fieldSays(error as Problem) : {});
    if (data) change({ steps: data });
  };
  const put = () =>
    save.mutate(
      {
        params: { path: { id: pad.poolId } },
        body: { id: walk.id, takenAt: now().toISOString(), note: walk.note, readings: typed(walk.steps) },
      },
      {
        onSuccess: () => {
          clear();
          changed("pool");
          go(`/pools/${pad.poolId}`);
        },
      },
    );
  return (
    <>
      <header className="top">
        <h1>{pad.street}</h1>
        <span className="quiet">{t(kept ? "bench.kept" : "bench.notKept")}</span>
      </header>
      <PoolPages id={pad.poolId} />
      <div className={styles.walk}>
        <section className={styles["walk-steps"]} aria-label={t("walk.title")}>
          <h2>{t("walk.title")}</h2>
          <p>{t("walk.how")}</p>
          {walk.steps.map((s, i) => (
            <WalkStep
              // biome-ignore lint/suspicious/noArrayIndexKey: a step is its place in the walk
              key={i}
              n={i}
              step={s}
              pad={pad}
              says={says}
              onChange={(part) => set(i, part)}
              onRemove={
                walk.steps.length > 1 ? () => change({ steps: walk.steps.filter((_, j) => j !== i) }) : undefined
              }
            />
          ))}
          {walk.steps.length < 12 && (
            <Button type="dashed" onClick={() => change({ steps: [...walk.steps, emptyStep("")] })}>
              <Tool name="plus" />
              {t("readings.another")}
            </Button>
          )}
          <FileField label={t("walk.file")} accept=".csv,text/csv" onFile={readFile} />
          <FileSays says={fileSays} />
          <WordsField label={t("log.note")} value={walk.note} onChange={(note) => change({ note })} />
          {says.readings && <span className="field-says">{says.readings}</span>}
          {problem && problem.status !== 422 && <Trouble error={problem} onRetry={again} />}
          <Button type="primary" size="large" id="keep-walk" disabled={save.isPending} onClick={put}>
            {t("walk.keep")}
          </Button>
        </section>
        <section
          className={`${styles["walk-fit"]} ${fit.isPlaceholderData || rows !== walk.steps ? "stale" : ""}`}
          aria-label={t("walk.fit")}
        >
          {fit.data ? <FitWords fit={fit.data} /> : <Loading />}
          <OldLines id={pad.poolId} />
        </section>
      </div>
    </>
  );
}

interface StepProps {
  n: number;
  step: Step;
  pad: PadOnRecord;
  says: Record<string, string>;
  onChange: (part: Partial<Step>) => void;
  onRemove?: () => void;
}

function WalkStep({ n, step, pad, says, onChange, onRemove }: StepProps) {
  const { t } = useTranslation();
  const m = pad.document.meters;
  const fields = [
    { name: "speed", unit: "rpm", shown: true },
    { name: "tank", unit: "psi", shown: true },
    { name: "vacuum", unit: "inHg", shown: m.hasVacuum && pad.document.vacuumTap !== "none" },
    { name: "flow", unit: "gpm", shown: m.hasFlow },
    { name: "power", unit: "W", shown: m.hasPower },
  ] as const;
  return (
    <fieldset className={styles["step-row"]}>
      <legend className="sr">{t("walk.step", { n: n + 1 })}</legend>
      {fields
        .filter((f) => f.shown)
        .map((f) => (
          <FigureField
            key={f.name}
            id={`walk-${n}-${f.name}`}
            label={`${t(`walk.short.${f.name}`)}, ${f.unit}`}
            value={step[f.name]}
            say={says[`readings[${n}].${f.name}`]}
            onChange={(v) => onChange({ [f.name]: v })}
          />
        ))}
      <div className={styles["step-foot"]}>
        <Settle since={step.since} onStart={() => onChange({ since: now().toISOString() })} />
        {onRemove && (
          <Button type="link" aria-label={t("walk.leaveOut", { n: n + 1 })} onClick={onRemove}>
            {t("readings.remove")}
          </Button>
        )}
      </div>
    </fieldset>
  );
}

/** The minutes that a pad takes to settle; typing is never barred, only told to wait. */
function Settle({ since, onStart }: { since?: string; onStart: () => void }) {
  const { t } = useTranslation();
  const [, tick] = useState(0);
  const left = since ? settling - (now().getTime() - Date.parse(since)) / 1000 : null;
  const counting = left !== null && left > 0;
  useEffect(() => {
    if (!counting) return;
    const id = setInterval(() => tick((n) => n + 1), 1000);
    return () => clearInterval(id);
  }, [counting]);
  if (left === null) {
    return (
      <Button size="small" className={styles.settle} onClick={onStart}>
        {t("walk.runs")}
      </Button>
    );
  }
  if (counting) {
    const s = Math.ceil(left);
    return (
      <span className={styles.settle} role="timer">
        <StateMark mark="hold" size={14} />{" "}
        {t("walk.settles", { time: `${Math.floor(s / 60)}:${String(s % 60).padStart(2, "0")}` })}
      </span>
    );
  }
  return (
    <span className={styles.settle}>
      <StateMark mark="fine" size={14} /> {t("walk.settled")}
    </span>
  );
}

/** The fit in words: how well, what is odd, what to read next. */
function FitWords({ fit }: { fit: WalkFit }) {
  const { t } = useTranslation();
  const meters = ["tank", "vacuum", "flow", "power"].filter(
    (m) => m === "tank" || fit.points.some((p) => p.meter === m),
  );
  const [meter, setMeter] = useState("tank");
  const pinned = fit.pinned.filter((p) => p.after < 0.95 * p.before);
  return (
    <>
      <Segmented
        aria-label={t("walk.meter")}
        value={meter}
        options={meters.map((m) => ({ value: m, label: t(`meter.${m}`) }))}
        onChange={setMeter}
      />
      <WalkChart fit={fit} meter={meter} />
      {fit.otherPump && (
        <p className="advice" id="other-pump">
          <StateMark mark="act" size={18} />
          <span>{t("walk.otherPump")}</span>
        </p>
      )}
      {fit.at.length > 0 && (
        <DataTable
          name="walk-at"
          label={t("walk.at")}
          rows={fit.at}
          keyOf={(a) => a.rpm}
          attrs={(a) => ({ className: a.programmed ? "here" : "" })}
          columns={[
            { key: "rpm", title: "rpm", end: true, cell: (a) => figure(a.rpm, "rpm") },
            { key: "gpm", title: unitOf("gpm"), end: true, cell: (a) => figure(a.gpm, "gpm") },
            { key: "w", title: "W", end: true, cell: (a) => figure(a.w, "W") },
            {
              key: "amps",
              title: t("walk.amps"),
              end: true,
              cell: (a) => `${a.ampsLow.toFixed(1)}–${a.ampsHigh.toFixed(1)}`,
            },
            {
              key: "per-kwh",
              title: t("walk.perKwh", { unit: unitOf("gal") }),
              end: true,
              cell: (a) => figure(a.galPerKwh, "gal"),
            },
            {
              key: "per-turnover",
              title: t("walk.perTurnover"),
              end: true,
              cell: (a) => (a.turnoverCost > 0 ? a.turnoverCost.toFixed(2) : "–"),
            },
          ]}
        />
      )}
      <ul className={styles["fit-words"]}>
        {fit.points.length === 0 && <li>{t("walk.noPoints")}</li>}
        {fit.points.length > 0 && (
          <li>
            <StateMark mark={fit.rms > 2 || fit.odd ? "act" : "fine"} />{" "}
            {t(fit.rms > 2 ? "walk.loose" : "walk.tight", { rms: fit.rms.toFixed(1), count: fit.points.length })}
          </li>
        )}
        {fit.odd && (
          <li data-odd={fit.odd.meter}>
            <StateMark mark="act" />{" "}
            {t("walk.odd", {
              meter: t(`meter.${fit.odd.meter}`),
              rpm: figure(fit.odd.rpm, "rpm"),
              read: `${figure(fit.odd.read, fit.odd.unit)} ${unitOf(fit.odd.unit)}`,
              rest: `${figure(fit.odd.rest, fit.odd.unit)} ${unitOf(fit.odd.unit)}`,
              strays: fit.odd.strays.toFixed(1),
            })}
          </li>
        )}
        {fit.pinned
          .filter((p) => p.unlikely)
          .map((p) => (
            <li key={p.id} data-unlikely={p.id}>
              <StateMark mark="act" />{" "}
              {t("walk.unlikely", { what: t(`walk.pins.${p.id}`), factor: p.factor.toFixed(1) })}
            </li>
          ))}
        {fit.next && (
          <li data-next={fit.next.meter}>
            <StateMark mark="job" />{" "}
            {t("walk.next", {
              meter: t(`meter.${fit.next.meter}`),
              rpm: figure(fit.next.rpm, "rpm"),
              pins: t(`walk.pins.${fit.next.pins}`),
              before: percent(fit.next.before),
              after: percent(fit.next.after),
            })}
          </li>
        )}
      </ul>
      {pinned.length > 0 && (
        <DataTable
          label={t("walk.pinned")}
          rows={pinned}
          keyOf={(p) => p.id}
          columns={[
            { key: "quantity", title: t("walk.quantity"), head: true, cell: (p) => t(`walk.pins.${p.id}`) },
            {
              key: "factor",
              title: t("walk.factor"),
              cell: (p) => (
                <>
                  × <span className="n">{p.factor.toFixed(2)}</span>
                </>
              ),
            },
            {
              key: "sure",
              title: t("walk.sure"),
              cell: (p) => `± ${percent(p.before)} → ± ${percent(p.after)} %`,
            },
          ]}
        />
      )}
    </>
  );
}

/** Withdraws a clean line that proved wrong, with the reason; what was read since is judged again. */
function Withdraw({ pool, line }: { pool: string; line: string }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const send = api.useMutation("post", "/api/v1/pools/{id}/clean-lines/{line}/withdrawal");
  const problem = send.error as Problem | null;
  if (!open)
    return (
      <Button type="link" size="small" id="withdraw-line" onClick={() => setOpen(true)}>
        {t("walk.withdraw")}
      </Button>
    );
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        send.mutate({ params: { path: { id: pool, line } }, body: { reason } }, { onSuccess: () => changed("pool") });
      }}
    >
      <p>{t("walk.withdrawWhat")}</p>
      <WordsField
        id="withdraw-reason"
        label={t("walk.withdrawWhy")}
        value={reason}
        say={fieldSays(problem).reason}
        onChange={setReason}
      />
      {problem && problem.status !== 422 && <Trouble error={problem} onRetry={() => send.reset()} />}
      <Button htmlType="submit" id="withdraw-send" disabled={send.isPending}>
        {t("walk.withdraw")}
      </Button>
    </form>
  );
}

function OldLines({ id }: { id: string }) {
  const { t } = useTranslation();
  const lines = api.useQuery("get", "/api/v1/pools/{id}/clean-lines", { params: { path: { id } } });
  if (!lines.data?.length) return null;
  return (
    <section className="sec">
      <h2>{t("walk.onRecord")}</h2>
      <ul>
        {lines.data.map((l) => (
          <li key={l.id}>
            <b>{longDay(l.takenAt)}</b> · {l.by} · {t("walk.of", { count: l.points, rms: l.fit.rms.toFixed(1) })}{" "}
            {l.inForce ? t("walk.inForce") : t("walk.past")} {l.note && `“${l.note}”`}
            {l.withdrawn ? (
              <p className="quiet">
                {t("walk.withdrawn", { by: l.withdrawn.by, on: longDay(l.withdrawn.at), reason: l.withdrawn.reason })}
              </p>
            ) : (
              l.inForce && <Withdraw pool={id} line={l.id} />
            )}
          </li>
        ))}
      </ul>
      {lines.data.some((l) => l.inForce) && (
        <a className="plain" href={`/api/v1/pools/${id}/pad/file?format=csv`} download>
          {t("walk.download")}
        </a>
      )}
    </section>
  );
}
