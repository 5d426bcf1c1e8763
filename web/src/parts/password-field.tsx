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
    <div className={`ff ${say ? "wrong" : ""}`}>
      <label htmlFor={id}>{label}</label>
      <span className="ff-in">
        <input
          id={id}
          type="password"
          autoComplete={current ? "current-password" : "new-password"}
          value={value}
          aria-invalid={Boolean(say)}
          onChange={(e) => onChange(e.target.value)}
        />
      </span>
      <span className="ff-says">
        {say ? (
          <span className="field-says" role="alert">
            {say}
          </span>
        ) : (
          hint
        )}
      </span>
    </div>
  );
}
