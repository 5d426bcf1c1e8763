import { useCallback, useEffect, useState } from "react";
import { tellKept } from "./waiting";

export type Change<T> = Partial<T> | ((stands: T) => Partial<T>);

/** State that survives a reload: kept on this device under a key until it is cleared. fresh must not change between draws. What an older key holds is taken over. */
export function useKept<T extends object>(key: string, fresh: () => T, was?: string) {
  const [value, setValue] = useState<T>(() => {
    try {
      const old = was && localStorage.getItem(was);
      if (was && old) {
        if (!localStorage.getItem(key)) localStorage.setItem(key, old);
        localStorage.removeItem(was);
      }
      const kept = localStorage.getItem(key);
      if (kept) return { ...fresh(), ...JSON.parse(kept) };
    } catch {
      // Storage is shut or what it holds is not readable: start afresh.
    }
    return fresh();
  });
  const [kept, setKept] = useState(true);
  useEffect(() => {
    try {
      localStorage.setItem(key, JSON.stringify(value));
      setKept(true);
      tellKept();
    } catch {
      setKept(false);
    }
  }, [key, value]);
  // What comes later than it was asked for builds on what stands then, not on what stood.
  const change = useCallback(
    (part: Change<T>) => setValue((v) => ({ ...v, ...(typeof part === "function" ? part(v) : part) })),
    [],
  );
  const clear = useCallback(() => {
    localStorage.removeItem(key);
    tellKept();
    setValue(fresh());
  }, [key, fresh]);
  return { value, change, clear, kept };
}
