import type { ReactNode } from "react";
import styles from "./field-line.module.css";

/** A field under its label, and what is said of it: a refusal before a hint. */
export function FieldLine({
  id,
  label,
  say,
  hint,
  children,
}: {
  id: string;
  label: ReactNode;
  say?: string;
  hint?: ReactNode;
  children: ReactNode;
}) {
  return (
    <div className={`ff ${styles.line}`}>
      <label htmlFor={id}>{label}</label>
      {children}
      <span id={`${id}-says`} className={styles.says}>
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
