import { useSyncExternalStore } from "react";

/** Something that this device has and the server has not. */
export interface Waits {
  key: string;
  kind: "visit" | "run" | "inspection";
  /** What it belongs to: a stop, a run, an inspection. */
  id: string;
  /** What it is of, where the device knows. */
  street: string;
  count: number;
}

/** Told after each change of what is kept here, by the tab that made it. */
const changed = "fairlap:kept";
export const tellKept = () => dispatchEvent(new Event(changed));

const one: Record<string, (kept: never) => { count: number; street?: string }> = {
  visit: (d: { closedAt?: string; street?: string }) => ({ count: d.closedAt ? 1 : 0, street: d.street }),
  run: (r: { queue?: unknown[]; last?: { street?: string } | null }) => ({
    count: r.queue?.length ?? 0,
    street: r.last?.street,
  }),
  inspection: (i: { mine?: object; street?: string }) => ({
    count: Object.keys(i.mine ?? {}).length,
    street: i.street,
  }),
};
const kinds = { draft: "visit", run: "run", inspection: "inspection" } as const;

function look(): Waits[] {
  const out: Waits[] = [];
  try {
    for (const key of Object.keys(localStorage)) {
      const [, word, id] = /^fairlap\.(draft|run|inspection)\.(.+)$/.exec(key) ?? [];
      if (!word) continue;
      const kind = kinds[word as keyof typeof kinds];
      const { count, street = "" } = one[kind](JSON.parse(localStorage.getItem(key) ?? "{}") as never);
      if (count > 0) out.push({ key, kind, id, street, count });
    }
  } catch {
    // Storage is shut, or what it holds is not ours to read: nothing waits that could be told.
  }
  return out.sort((a, b) => a.key.localeCompare(b.key));
}

let told = "";
let waits: Waits[] = [];
function now(): Waits[] {
  const next = look();
  const says = JSON.stringify(next);
  if (says !== told) {
    told = says;
    waits = next;
  }
  return waits;
}

const watch = (heard: () => void) => {
  addEventListener(changed, heard);
  addEventListener("storage", heard);
  return () => {
    removeEventListener(changed, heard);
    removeEventListener("storage", heard);
  };
};

/** What waits on this device, of every tab. */
export const useWaiting = (): Waits[] => useSyncExternalStore(watch, now);
