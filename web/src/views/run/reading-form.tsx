import { useTranslation } from "react-i18next";
import type { RunView, TypedReading } from "../../api/client";
import { useKept } from "../../parts/use-kept";
import { emptyReading } from "../bench/draft";
import { fieldsOf } from "../bench/readings";

const units: Record<string, string> = { speed: "rpm", tank: "psi", vacuum: "inHg", flow: "gpm", power: "W" };

interface Props {
  run: RunView;
  step: string;
  says: Record<string, string>;
  onRead: (reading: TypedReading) => void;
}

/** Gauges typed in place; what is typed stays on this device until it is taken. */
export function ReadingForm({ run, step, says, onRead }: Props) {
  const { t } = useTranslation();
  const { value, change } = useKept<TypedReading>(`fairlap.run-read.${run.id}.${step}`, emptyReading);
  const say = (f: string) => Object.entries(says).find(([k]) => k.endsWith(`reading.${f}`))?.[1];
  return (
    <form
      className="run-read"
      onSubmit={(e) => {
        e.preventDefault();
        onRead(value);
      }}
    >
      {fieldsOf(run.pad).map((f) => (
        <label key={f} className="run-field">
          {t(`meter.${f}`)}
          <span className="rd-fig">
            <input
              id={`run-${f}`}
              className="fig"
              inputMode="decimal"
              autoComplete="off"
              value={value[f] ?? ""}
              aria-invalid={Boolean(say(f))}
              onChange={(e) => change({ [f]: e.target.value })}
            />
            <span className="unit">{units[f]}</span>
          </span>
          {say(f) && (
            <span className="field-says" role="alert">
              {say(f)}
            </span>
          )}
        </label>
      ))}
      <button type="submit" className="btn main run-go" id="run-read">
        {t("run.takeReading")}
      </button>
    </form>
  );
}
