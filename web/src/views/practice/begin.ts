import { useNavigate } from "react-router";
import type { PracticeAsk } from "../../api/client";
import { useMe } from "../../frame/me";
import { keep } from "../../kept/store";
import type { KeptPractice } from "../../kept/waiting";
import { now } from "../../parts/clock";

export type Which = Pick<PracticeAsk, "id" | "draw" | "case">;
export type Mode = PracticeAsk["mode"];

/** Begins a case on this device and opens it. */
export function useBegin(): (which: Which, title: string, mode: Mode, task?: string) => void {
  const me = useMe();
  const go = useNavigate();
  return (which, title, mode, task) => {
    const id = crypto.randomUUID();
    const { id: name, draw, case: own } = which;
    const ask: PracticeAsk = {
      ...(name && { id: name }),
      ...(draw && { draw }),
      ...(own && { case: own }),
      mode,
      events: [],
    };
    keep(me.id, "practice", id, { ask, title, task, at: now().toISOString(), over: false } satisfies KeptPractice);
    go(`/practice/${id}`);
  };
}
