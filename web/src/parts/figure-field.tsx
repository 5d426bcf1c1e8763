import { Checkbox, Input } from "antd";
import { useId, useState } from "react";
import { FieldLine } from "./field-line";
import { decimalsOf, toShown, toTrade, unitOf } from "./format";
import { believable, figuresOf, readFigure } from "./read-figure";

/** A figure kept in a trade unit, as it is shown and typed in the reader's units. What is
 *  no plain figure (a unit typed with it, a slip) goes on as it is; what could be two keeps
 *  the unit that it was typed in, so that nobody takes it for the trade's. */
export function useShown(value: string, unit: string | undefined, onChange: (trade: string) => void) {
  const [own, setOwn] = useState({ typed: "", trade: "" });
  if (!unit || unitOf(unit) === unit) return { shown: value, type: onChange };
  const kept = readFigure(value, unit);
  const told = Number.isNaN(kept) ? value : String(Number(toShown(kept, unit).toFixed(decimalsOf(unit) + 1)));
  return {
    shown: own.trade === value && value !== "" ? own.typed : told,
    type: (typed: string) => {
      const can = figuresOf(typed).filter((v, _, all) => all.length < 2 || believable(toTrade(v, unit), unit));
      const trade =
        can.length === 1
          ? String(Number(toTrade(can[0], unit).toFixed(4)))
          : can.length
            ? `${typed} ${unitOf(unit)}`
            : typed;
      setOwn({ typed, trade });
      onChange(trade);
    },
  };
}

interface Props {
  label: string;
  unit?: string;
  value: string;
  say?: string;
  id?: string;
  hint?: string;
  onChange: (text: string) => void;
}

/** One typed figure with its unit, and the sentence that refuses it beside it. */
export function FigureField({ label, unit, value, say, id, hint, onChange }: Props) {
  const made = useId();
  const own = id ?? made;
  const { shown, type } = useShown(value, unit, onChange);
  return (
    <FieldLine id={own} label={label} say={say} hint={hint}>
      <Input
        id={own}
        inputMode="decimal"
        enterKeyHint="next"
        autoComplete="off"
        value={shown}
        suffix={unit && unitOf(unit)}
        status={say ? "error" : undefined}
        aria-invalid={Boolean(say)}
        aria-describedby={`${own}-says`}
        onChange={(e) => type(e.target.value)}
      />
    </FieldLine>
  );
}

export function TickField({
  id,
  label,
  checked,
  onChange,
}: {
  id?: string;
  label: string;
  checked: boolean;
  onChange: (v: boolean) => void;
}) {
  return (
    <Checkbox id={id} className="tick-line" checked={checked} onChange={(e) => onChange(e.target.checked)}>
      {label}
    </Checkbox>
  );
}
