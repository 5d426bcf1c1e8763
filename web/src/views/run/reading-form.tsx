import { Button, Input } from "antd";
import { useCallback } from "react";
import { useTranslation } from "react-i18next";
import type { RunView, TypedReading } from "../../api/client";
import { useMe } from "../../frame/me";
import { useKept } from "../../kept/use-kept";
import { useShown } from "../../parts/figure-field";
import { unitOf } from "../../parts/format";
import { emptyReading } from "../../parts/visit-draft";
import { lastReading } from "../bench/draft";
import { fieldsOf, units } from "../bench/readings";
import styles from "./run.module.css";

interface Props {
  run: RunView;
  step: string;
  says: Record<string, string>;
  onRead: (reading: TypedReading) => void;
}

/** What a reading of a run starts as: the one before is the bench's, the others know their speed. */
function startsAs(me: string, run: RunView, id: string): TypedReading {
  const step = run.script.steps.find((s) => s.id === id);
  if (step?.read === "before" && run.stopId) return { ...emptyReading(), ...lastReading(me, run.stopId) };
  const rpm = step?.rpm || run.result.before?.rpm;
  return { ...emptyReading(), speed: rpm ? String(rpm) : "" };
}

/** Gauges typed in place; what is typed stays on this device until it is taken. */
export function ReadingForm({ run, step, says, onRead }: Props) {
  const { t } = useTranslation();
  const { id: me } = useMe();
  const fresh = useCallback(() => startsAs(me, run, step), [me, run, step]);
  const { value, change } = useKept<TypedReading>("run-read", `${run.id}.${step}`, fresh);
  const say = (f: string) => Object.entries(says).find(([k]) => k.endsWith(`reading.${f}`))?.[1];
  return (
    <form
      className={styles["run-read"]}
      onSubmit={(e) => {
        e.preventDefault();
        onRead(value);
      }}
    >
      {fieldsOf(run.pad).map((f) => (
        <Gauge key={f} field={f} value={value[f] ?? ""} say={say(f)} onChange={(text) => change({ [f]: text })} />
      ))}
      <Button htmlType="submit" type="primary" size="large" className={styles["run-go"]} id="run-read">
        {t("run.takeReading")}
      </Button>
    </form>
  );
}

function Gauge({
  field,
  value,
  say,
  onChange,
}: {
  field: keyof typeof units;
  value: string;
  say?: string;
  onChange: (text: string) => void;
}) {
  const { t } = useTranslation();
  const { shown, type } = useShown(value, units[field], onChange);
  return (
    <div className={styles["run-field"]}>
      <label htmlFor={`run-${field}`}>{t(`meter.${field}`)}</label>
      <span className="rd-fig">
        <Input
          id={`run-${field}`}
          className="fig"
          inputMode="decimal"
          autoComplete="off"
          value={shown}
          aria-invalid={Boolean(say)}
          onChange={(e) => type(e.target.value)}
        />
        <span className="unit">{unitOf(units[field])}</span>
      </span>
      {say && (
        <span className="field-says" role="alert">
          {say}
        </span>
      )}
    </div>
  );
}
