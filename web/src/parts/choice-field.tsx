import { useId } from "react";
import { Choice } from "./choice";
import { FieldLine } from "./field-line";

/** A choice of words. */
export function ChoiceField<T extends string>({
  label,
  value,
  options,
  say,
  id,
  onChange,
}: {
  label: string;
  value: T;
  options: { value: T; label: string }[];
  say?: string;
  id?: string;
  onChange: (v: T) => void;
}) {
  const made = useId();
  const own = id ?? made;
  return (
    <FieldLine id={own} label={label} say={say}>
      <Choice id={own} value={value} options={options} wrong={Boolean(say)} onChange={onChange} />
    </FieldLine>
  );
}
