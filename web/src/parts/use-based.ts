import { useEffect, useState } from "react";

/** A form over a record that others may change too: what was typed, and the version that
 *  it was typed over. A change of the record that touches none of the form's fields is
 *  taken up by itself; any other waits for the server to say so. */
export function useBased<R extends { version: number }, F extends object>(stands: R, typed: (r: R) => F) {
  const [form, setForm] = useState<F>(() => typed(stands));
  const [base, setBase] = useState({ version: stands.version, fields: JSON.stringify(typed(stands)) });
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is typed of a record follows from it
  useEffect(() => {
    if (stands.version !== base.version && JSON.stringify(typed(stands)) === base.fields) {
      setBase({ ...base, version: stands.version });
    }
  }, [stands]);
  /** Starts over from a record: one just saved, or theirs. */
  const startFrom = (r: R) => {
    setForm(typed(r));
    setBase({ version: r.version, fields: JSON.stringify(typed(r)) });
  };
  return { form, setForm, version: base.version, startFrom };
}
