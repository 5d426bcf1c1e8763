import { useEffect, useState, useSyncExternalStore } from "react";
import { useMe } from "../frame/me";
import { now } from "../parts/clock";
import type { ChangeBody, ChangeKind } from "./changes";
import { keep, keptOf, onKept } from "./store";
import { useFailing } from "./use-sender";
import type { KeptChange } from "./waiting";

/**
 * A change that is kept on this device until the server has it. It is done once it is on record,
 * or once there is no line to wait for; a refusal comes back to whoever made it, to be mended.
 */
export function useChange<K extends ChangeKind>(what: K) {
  const { id: who } = useMe();
  const failing = useFailing();
  const [own, setOwn] = useState<{ id: string; then?: () => void }>();
  const kept = useSyncExternalStore(onKept, () => (own ? keptOf<KeptChange>(who, "change", own.id) : undefined));
  const done = own && (!kept || (failing && !kept.refused));
  useEffect(() => {
    if (!done) return;
    setOwn(undefined);
    own.then?.();
  }, [done, own]);
  return {
    make: (pool: string, street: string, body: ChangeBody<K>, then?: () => void) => {
      keep(who, "change", body.id, { what, pool, street, body, at: now().toISOString() } satisfies KeptChange);
      setOwn({ id: body.id, then });
    },
    busy: Boolean(own && kept && !kept.refused),
    says: kept?.refused?.fields ?? {},
    /** Why it was refused, in one sentence; empty: it was not. */
    refused: kept?.refused?.detail ?? "",
    /** Lets go of a refusal that is shown here; it stays in the list of what waits. */
    reset: () => setOwn(undefined),
  };
}
