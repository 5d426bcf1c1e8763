import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import { useChanged } from "../api/use-changed";
import { useMe } from "../frame/me";
import { askToStay } from "./room";
import { type Hands, type Outcome, senders } from "./senders";
import { onGoneElsewhere, onKept } from "./store";
import { type SentKind, type Waits, waitsNow } from "./waiting";

/** Milliseconds until what has not settled is looked at, and between tries while there is no line. */
const soon = 400;
const first = 1000;
const longest = 30_000;

const order = Object.keys(senders) as SentKind[];
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

/** Sends once all that is due of somebody's, in the order that it hangs together. */
async function sendAll(who: string, hands: Hands): Promise<Outcome> {
  const mine = waitsNow()
    .filter((w) => w.who === who && !w.refused)
    .sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind));
  const seen = new Set<Outcome>();
  for (const w of mine) {
    const outcome = await senders[w.kind](w, hands).catch((): Outcome => "later");
    tellFailing(outcome === "later");
    if (outcome === "later") return "later";
    seen.add(outcome);
  }
  return seen.has("soon") ? "soon" : seen.has("sent") ? "sent" : "nothing";
}

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
    let wait = first;
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
      const outcome = await (navigator.locks
        ? navigator.locks.request("fairlap.sender", { ifAvailable: true }, (lock) =>
            lock ? sendAll(id, { queries, changed }) : ("soon" as Outcome),
          )
        : sendAll(id, { queries, changed }));
      busy = false;
      if (ended) return;
      if (outcome === "later") {
        // A session that ended asks for a sign-in.
        queries.invalidateQueries({ queryKey: ["get", "/api/v1/me"] });
        after(wait);
        wait = Math.min(2 * wait, longest);
        return;
      }
      wait = first;
      if (outcome !== "nothing") after(soon);
    };
    const again = () => {
      wait = first;
      after(0);
    };
    const looked = () => document.visibilityState === "visible" && again();
    const stop = onKept(() => !failing && after(0));
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
