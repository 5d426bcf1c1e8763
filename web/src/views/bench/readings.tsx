import { Button, Input, Space } from "antd";
import { type KeyboardEvent, useRef } from "react";
import { useTranslation } from "react-i18next";
import type { Bench, TypedReading, Verdict } from "../../api/client";
import { Choice } from "../../parts/choice-later";
import { useShown } from "../../parts/figure-field";
import { Fold } from "../../parts/fold";
import { difference, figure, measured, toShown, unitOf } from "../../parts/format";
import { Tool } from "../../parts/glyphs";
import { emptyReading } from "../../parts/visit-draft";
import styles from "./bench.module.css";

type Field = "speed" | "tank" | "vacuum" | "flow" | "power";
export const units: Record<Field, string> = { speed: "rpm", tank: "psi", vacuum: "inHg", flow: "gpm", power: "W" };
const steps: Record<Field, number> = { speed: 50, tank: 0.5, vacuum: 0.5, flow: 1, power: 5 };

export function fieldsOf(pad: Bench["pad"]): Field[] {
  const out: Field[] = ["speed", "tank"];
  if (pad.hasVacuum) out.push("vacuum");
  if (pad.hasFlow) out.push("flow");
  if (pad.hasPower) out.push("power");
  return out;
}

/** A step of the buttons in metric, by field. */
const metricSteps: Partial<Record<Field, number>> = { tank: 0.05, vacuum: 1, flow: 0.2 };

const numberOf = (text: string) => Number.parseFloat(text.replace(/(\d),(\d{3})\b/, "$1$2").replace(",", "."));

/** What was read, in the units that people read here. */
const inALine = (r: Verdict["readings"][number]) =>
  [measured(r.rpm, "rpm"), ...r.meters.flatMap((m) => (m.read === null ? [] : [measured(m.read, m.unit)]))].join(" · ");

interface Props {
  bench: Bench;
  readings: TypedReading[];
  verdict: Verdict | undefined;
  says: Record<string, string>;
  onChange: (readings: TypedReading[]) => void;
  onDemo?: (reading: number) => void;
}

export function Readings({ bench, readings, verdict, says, onChange, onDemo }: Props) {
  const { t } = useTranslation();
  const { pad } = bench;
  const section = useRef<HTMLElement>(null);
  /** Enter goes to the next figure; after the last one the keyboard goes away and the verdict is in sight. */
  const onKey = (e: KeyboardEvent) => {
    if (e.key !== "Enter" || !(e.target instanceof HTMLInputElement)) return;
    const all = [...(section.current?.querySelectorAll("input") ?? [])];
    const next = all[all.indexOf(e.target) + 1];
    if (next) next.focus();
    else e.target.blur();
    e.preventDefault();
  };
  const set = (i: number, part: Partial<TypedReading>) =>
    onChange(readings.map((r, j) => (i === j ? { ...r, ...part } : r)));
  const settings = ["filter", ...(pad.multiport ? ["recirculate"] : []), ...(pad.spaMode ? ["spa"] : [])];
  const first = readings.findIndex((_, i) => !verdict?.readings.find((v) => v.row === i)?.before);
  const taken = verdict?.readings.filter((r) => r.row < 0) ?? [];
  const flow = verdict?.readings.findLast((r) => r.flow)?.flow;
  return (
    <section
      id="readings"
      ref={section}
      className={`sec ${styles["sec-read"]}`}
      aria-labelledby="readings-head"
      onKeyDown={onKey}
    >
      <div className="sec-head">
        <h2 id="readings-head">{t("readings.title")}</h2>
      </div>
      {readings.map((r, i) => {
        const read = r.tank || r.vacuum || r.flow || r.power;
        const shown = read ? verdict?.readings.find((v) => v.row === i) : undefined;
        const work = shown?.before ? verdict?.changed?.work : undefined;
        if (shown && work)
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place in the list
            <p className="quiet" key={i} data-before={i}>
              {t("readings.beforeWork", { work })} {inALine(shown)}
            </p>
          );
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place in the list
          <div className={styles.rds} key={i}>
            {fieldsOf(pad).map((f) => (
              <Reading
                key={f}
                field={f}
                row={i}
                value={r[f] ?? ""}
                say={says[`readings[${i}].${f}`]}
                expected={expected(f, shown, pad)}
                was={i === first ? lastOf(f, bench) : undefined}
                onChange={(v) => set(i, { [f]: v })}
              />
            ))}
            {settings.length > 1 && i > 0 && (
              <div className={styles.setting}>
                <label htmlFor={`reading-${i}-setting`}>{t("readings.setting")}</label>
                <Choice
                  id={`reading-${i}-setting`}
                  value={r.setting || verdict?.stop.setting || "filter"}
                  options={settings.map((s) => ({
                    value: s as string,
                    label: t(s === "spa" ? "readings.spaMode" : `setting.${s}`),
                  }))}
                  onChange={(v) => set(i, { setting: v as TypedReading["setting"] })}
                />
              </div>
            )}
            {i > 0 && (
              <Button type="link" onClick={() => onChange(readings.filter((_, j) => j !== i))}>
                {t("readings.remove")}
              </Button>
            )}
          </div>
        );
      })}
      {taken.map((r) => (
        <p key={`${r.rpm} ${r.setting}`} className="quiet" data-taken={r.rpm}>
          {t("readings.taken")} {inALine(r)}
        </p>
      ))}
      <div className={styles["under-reads"]}>
        {readings.length < 4 && (
          <Button id="add-reading" type="dashed" onClick={() => onChange([...readings, emptyReading()])}>
            <Tool name="plus" />
            {t("readings.another")}
          </Button>
        )}
        {flow ? <FlowWays flow={flow} /> : <span className="quiet">{t("readings.settle")}</span>}
        {onDemo && (
          <Button
            size="small"
            id="demo-read"
            className={styles["demo-read"]}
            onClick={() => onDemo(readings.length - 1)}
          >
            {t("readings.demo")}
          </Button>
        )}
      </div>
    </section>
  );
}

/** The flow by every way that the reading offers, and whether they agree. */
function FlowWays({ flow }: { flow: NonNullable<Verdict["readings"][number]["flow"]> }) {
  const { t } = useTranslation();
  const agree = flow.agree
    ? t("readings.agree")
    : flow.strays
      ? t("readings.partBy", { way: t(`readings.way.${flow.strays}`) })
      : t("readings.part");
  return (
    <div className={styles["flow-ways"]} data-agree={flow.agree}>
      <Fold
        head={t("readings.ways", {
          count: flow.ways.length,
          mean: figure(flow.mean, "gpm"),
          sd: figure(flow.sd, "gpm"),
          agree,
        })}
      >
        <ul>
          {flow.ways.map((w) => (
            <li key={w.way}>
              {t("readings.wayIs", {
                way: t(`readings.way.${w.way}`),
                flow: figure(w.gpm, "gpm"),
                sd: figure(w.sd, "gpm"),
              })}
            </li>
          ))}
        </ul>
        <p className="quiet">{t("readings.waysWhy")}</p>
      </Fold>
    </div>
  );
}

interface Expectation {
  clean: number;
  diff: string;
}

function expected(
  f: Field,
  shown: Verdict["readings"][number] | undefined,
  pad: Bench["pad"],
): Expectation | undefined {
  if (f === "speed") return { clean: pad.usualRpm, diff: shown ? difference(shown.rpm - pad.usualRpm, "rpm") : "" };
  const m = shown?.meters.find((x) => x.meter === f);
  return m && { clean: m.clean, diff: m.read == null ? "" : difference(m.read - m.clean, m.unit) };
}

/** What a meter said at the visit before. */
function lastOf(f: Field, { before: b }: Bench): number | undefined {
  if (!b) return undefined;
  return { speed: b.rpm, tank: b.tankPsi, vacuum: b.vacuumInHg, flow: b.flowGpm, power: b.powerW }[f] ?? undefined;
}

interface ReadingProps {
  field: Field;
  row: number;
  value: string;
  say?: string;
  expected?: Expectation;
  was?: number;
  onChange: (v: string) => void;
}

function Reading({ field, row, value, say, expected, was, onChange }: ReadingProps) {
  const { t } = useTranslation();
  const id = `reading-${row}-${field}`;
  const unit = units[field];
  const name = t(`meter.${field}`);
  const { shown, type } = useShown(value, unit, onChange);
  const size = unitOf(unit) === unit ? steps[field] : (metricSteps[field] ?? steps[field]);
  const step = (by: number) => {
    const from = numberOf(shown);
    const base = Number.isNaN(from) ? toShown(expected?.clean ?? 0, unit) : from + by;
    type(String(Number(Math.max(0, Math.round(base / size) * size).toFixed(2))));
  };
  return (
    <div className={`${styles.rd} ${say ? styles.wrong : ""}`}>
      <label className={styles["rd-name"]} htmlFor={id}>
        {name}
      </label>
      <span className="rd-fig">
        <Input
          id={id}
          className="fig"
          variant="borderless"
          inputMode="decimal"
          enterKeyHint="next"
          autoComplete="off"
          value={shown}
          placeholder="–"
          aria-invalid={Boolean(say)}
          aria-describedby={`${id}-says`}
          onChange={(e) => type(e.target.value)}
        />
        <span className="unit">{unitOf(unit)}</span>
      </span>
      <span className={styles["rd-says"]} id={`${id}-says`}>
        {say ? (
          <span className="field-says" role="alert">
            {say}
          </span>
        ) : (
          <>
            {expected && (
              <span>
                <span className="sr">{t(field === "speed" ? "readings.programmed" : "readings.cleanSays")} </span>
                <span className="exp">{figure(expected.clean, unit)}</span>
                <span className={styles.dif}>{expected.diff}</span>
              </span>
            )}
            {was !== undefined && (
              <span className={styles.was}>
                {t("readings.was")} {figure(was, unit)}
              </span>
            )}
          </>
        )}
      </span>
      <Space.Compact className={styles.step}>
        <Button aria-label={t("readings.less", { name })} onClick={() => step(-size)}>
          <Tool name="minus" />
        </Button>
        <Button aria-label={t("readings.more", { name })} onClick={() => step(size)}>
          <Tool name="plus" />
        </Button>
      </Space.Compact>
    </div>
  );
}
