import { useEffect, useRef } from "react";
import { useLocation } from "react-router";
import { http, mayPass, type Problem } from "../api/client";
import { useChanged } from "../api/use-changed";
import { asVisit, type Draft } from "../parts/visit-draft";
import { tellKept, useWaiting, type Waits } from "../parts/waiting";
import { useMe } from "./me";

/** Milliseconds between tries while something waits: the first, and the longest. */
const first = 1000;
const longest = 30_000;

/** Sends a logged visit from wherever the person is; says whether the next may be tried at once. */
async function sendVisit(w: Waits): Promise<boolean> {
  const draft = JSON.parse(localStorage.getItem(w.key) ?? "{}") as Draft & { refused?: string };
  if (!draft.closedAt || draft.refused) return true;
  const { data, error } = await http.POST("/api/v1/visits", { body: asVisit(w.id, draft) });
  if (!data && (mayPass(error) || (error as Problem).status === 401)) return false;
  // What was typed meanwhile in another tab stays as it is there.
  const now = JSON.parse(localStorage.getItem(w.key) ?? "{}") as Draft;
  if (now.visitId !== draft.visitId || !now.closedAt) return true;
  if (data) localStorage.removeItem(w.key);
  else {
    const refused = (error as Problem).errors?.find((e) => e.message)?.message ?? (error as Problem).detail;
    localStorage.setItem(w.key, JSON.stringify({ ...now, refused }));
  }
  tellKept();
  return true;
}

/** Sends what its maker logged, whatever page is open: at once, when the line comes back, when the
 *  page is looked at, and again and again until it is gone. The stop's own page sends its own. */
export function useSender(): void {
  const changed = useChanged();
  const me = useMe();
  const { pathname } = useLocation();
  const all = useWaiting();
  const mine = all.filter((w) => w.kind === "visit" && w.who === me.id && !w.refused && pathname !== `/stops/${w.id}`);
  const due = useRef(mine);
  due.current = mine;
  const waiting = mine.map((w) => w.key).join();
  useEffect(() => {
    if (!waiting) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let wait = first;
    let ended = false;
    const go = () =>
      navigator.locks.request("fairlap.sender", { ifAvailable: true }, async (lock) => {
        let on = lock !== null; // else another tab is at it
        let sent = false;
        for (const w of lock ? due.current : []) {
          on = await sendVisit(w).catch(() => false);
          if (!on) break;
          sent = true;
        }
        if (sent) changed("pool");
        if (ended) return;
        wait = on ? first : Math.min(2 * wait, longest);
        timer = setTimeout(go, wait);
      });
    const again = () => {
      clearTimeout(timer);
      wait = first;
      go();
    };
    const looked = () => document.visibilityState === "visible" && again();
    timer = setTimeout(go, 0);
    addEventListener("online", again);
    document.addEventListener("visibilitychange", looked);
    return () => {
      ended = true;
      clearTimeout(timer);
      removeEventListener("online", again);
      document.removeEventListener("visibilitychange", looked);
    };
  }, [waiting, changed]);
}
