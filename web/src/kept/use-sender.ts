import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import { useChanged } from "../api/use-changed";
import { useMe } from "../frame/me";
import { askToStay } from "./room";
import { nextTry, type Round, sendAll } from "./sending";
import { onGoneElsewhere, onKept } from "./store";
import { tryAll } from "./tries";
import { type Waits, waitsNow } from "./waiting";

/** Milliseconds until what has not settled is looked at. */
const soon = 400;

/** Another tab sends: it is looked at soon whether it has. */
const elsewhere: Round = { soon: true, sent: false };

const heard = new Set<() => void>();
let failing = false;

function tellFailing(is: boolean): void {
  if (failing === is) return;
  failing = is;
  for (const hear of heard) hear();
}

const onFailing = (hear: () => void) => {
  heard.add(hear);
  return () => heard.delete(hear);
};

/** Whether what was sent last did not arrive, because of the line or the server. */
export const useFailing = (): boolean => useSyncExternalStore(onFailing, () => failing);

/**
 * Sends what somebody made, whatever page is open: at once, when the line comes back, when the
 * page is looked at, and again and again until it is gone. One tab of the device sends at a time.
 */
export function useSender(): void {
  const queries = useQueryClient();
  const changed = useChanged();
  const { id } = useMe();
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    let ended = false;
    let busy = false;
    const due = (w: Waits) => w.who === id && !w.refused;
    const after = (ms: number) => {
      clearTimeout(timer);
      timer = setTimeout(go, ms);
    };
    const go = async () => {
      if (busy || ended || !waitsNow().some(due)) return;
      busy = true;
      askToStay();
      // Nothing to hold on to where the page is not served safely: one tab is then taken for all.
      const round = await (navigator.locks
        ? navigator.locks.request("fairlap.sender", { ifAvailable: true }, (lock) =>
            lock ? sendAll(id, { queries, changed }) : elsewhere,
          )
        : sendAll(id, { queries, changed }));
      busy = false;
      if (ended) return;
      tellFailing(Boolean(round.stays));
      // A session that ended asks for a sign-in.
      if (round.stays === "session") queries.invalidateQueries({ queryKey: ["get", "/api/v1/me"] });
      const next = round.soon || round.sent ? soon : nextTry(id);
      if (next !== undefined) after(next);
    };
    const again = () => {
      tryAll();
      after(0);
    };
    const looked = () => document.visibilityState === "visible" && again();
    const stop = onKept(() => after(0));
    const stopElsewhere = onGoneElsewhere(() => changed("pool"));
    addEventListener("online", again);
    document.addEventListener("visibilitychange", looked);
    after(0);
    return () => {
      ended = true;
      clearTimeout(timer);
      stop();
      stopElsewhere();
      removeEventListener("online", again);
      document.removeEventListener("visibilitychange", looked);
    };
  }, [id, queries, changed]);
}
