import { useCallback, useMemo, useState, useSyncExternalStore } from "react";
import { useMe } from "../frame/me";
import { forget, isKeeping, keep, keptOf, onKept } from "./store";

export type Change<T> = Partial<T> | ((stands: T) => Partial<T>);

/**
 * State that survives a reload and is the same in every tab: kept on this device for whoever is
 * signed in, until it is cleared. fresh must not change between draws.
 */
export function useKept<T extends object>(kind: string, id: string, fresh: () => T) {
  const { id: who } = useMe();
  const [start, setStart] = useState(fresh);
  const stands = useSyncExternalStore(onKept, () => keptOf<T>(who, kind, id));
  const kept = useSyncExternalStore(onKept, isKeeping);
  // What comes later than it was asked for builds on what stands then, not on what stood.
  const change = useCallback(
    (part: Change<T>) => {
      const now = { ...start, ...keptOf<T>(who, kind, id) };
      keep(who, kind, id, { ...now, ...(typeof part === "function" ? part(now) : part) });
    },
    [who, kind, id, start],
  );
  const clear = useCallback(() => {
    forget(who, kind, id);
    setStart(fresh());
  }, [who, kind, id, fresh]);
  const begin = useCallback(() => {
    if (!keptOf(who, kind, id)) keep(who, kind, id, start, true);
  }, [who, kind, id, start]);
  const value = useMemo(() => (stands ? { ...start, ...stands } : start), [start, stands]);
  return { value, change, clear, kept, begin };
}
