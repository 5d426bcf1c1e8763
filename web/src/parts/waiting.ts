import { useSyncExternalStore } from "react";

/** Something that this device has and the server has not. */
export interface Waits {
  key: string;
  kind: "visit" | "run" | "inspection";
  /** Whose it is: it goes out under their session alone. */
  who: string;
  /** What it belongs to: a stop, a run, an inspection. */
  id: string;
  /** What it is of, where the device knows. */
  street: string;
  count: number;
  /** The server's sentence, where it refused it. */
  refused?: string;
}

const words = { visit: "draft", run: "run", inspection: "inspection" } as const;
const kinds = { draft: "visit", run: "run", inspection: "inspection" } as const;

/** Where this device keeps what one person made: nobody else opens it or sends it. */
export const ownKey = (who: string, kind: Waits["kind"], id: string) => `fairlap.${words[kind]}.${who}.${id}`;

/** Where it was kept before it was told whose it is. */
export const sharedKey = (kind: Waits["kind"], id: string) => `fairlap.${words[kind]}.${id}`;

/** Told after each change of what is kept here, by the tab that made it. */
const changed = "fairlap:kept";
export const tellKept = () => dispatchEvent(new Event(changed));

const one: Record<string, (kept: never) => { count: number; street?: string; refused?: string }> = {
  visit: (d: { closedAt?: string; street?: string; refused?: string }) => ({
    count: d.closedAt ? 1 : 0,
    street: d.street,
    refused: d.refused,
  }),
  run: (r: { queue?: unknown[]; last?: { street?: string } | null }) => ({
    count: r.queue?.length ?? 0,
    street: r.last?.street,
  }),
  inspection: (i: { mine?: object }) => ({ count: Object.keys(i.mine ?? {}).length }),
};

function look(): Waits[] {
  const out: Waits[] = [];
  try {
    for (const key of Object.keys(localStorage)) {
      const [, word, who, id] = /^fairlap\.(draft|run|inspection)\.([0-9a-f-]{36})\.(.+)$/.exec(key) ?? [];
      if (!word) continue;
      const kind = kinds[word as keyof typeof kinds];
      const { street = "", ...of } = one[kind](JSON.parse(localStorage.getItem(key) ?? "{}") as never);
      if (of.count > 0) out.push({ key, kind, who, id, street, ...of });
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

/** What waits on this device, of every tab and person. */
export const useWaiting = (): Waits[] => useSyncExternalStore(watch, now);
