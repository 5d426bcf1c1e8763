import { Input } from "antd";
import { FieldLine } from "./field-line";

/** A password that nobody sees. */
export function PasswordField({
  id,
  label,
  value,
  say,
  hint,
  current,
  onChange,
}: {
  id: string;
  label: string;
  value: string;
  say?: string;
  hint?: string;
  current?: boolean;
  onChange: (text: string) => void;
}) {
  return (
    <FieldLine id={id} label={label} say={say} hint={hint}>
      <Input.Password
        id={id}
        autoComplete={current ? "current-password" : "new-password"}
        value={value}
        aria-invalid={Boolean(say)}
        aria-describedby={`${id}-says`}
        onChange={(e) => onChange(e.target.value)}
      />
    </FieldLine>
  );
}
