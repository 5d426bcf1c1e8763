import { Input } from "antd";
import { type ReactNode, useId } from "react";
import { FieldLine } from "./field-line";

interface Props {
  label: ReactNode;
  value: string;
  say?: string;
  hint?: ReactNode;
  id?: string;
  max?: number;
  /** Lines that it is high; one is a plain field. */
  lines?: number;
  /** The page begins here: the keyboard is up at once. */
  first?: boolean;
  onChange: (text: string) => void;
}

/** Words as they are typed, and the sentence that refuses them beside the field. */
export function WordsField({ label, value, say, hint, id, max = 300, lines = 1, first, onChange }: Props) {
  const made = useId();
  const own = id ?? made;
  const shared = {
    id: own,
    value,
    maxLength: max,
    autoFocus: first,
    autoComplete: "off",
    "aria-invalid": Boolean(say),
    "aria-describedby": `${own}-says`,
    status: say ? ("error" as const) : undefined,
  };
  return (
    <FieldLine id={own} label={label} say={say} hint={hint}>
      {lines > 1 ? (
        <Input.TextArea {...shared} rows={lines} onChange={(e) => onChange(e.target.value)} />
      ) : (
        <Input {...shared} onChange={(e) => onChange(e.target.value)} />
      )}
    </FieldLine>
  );
}
