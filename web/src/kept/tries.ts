import { useSyncExternalStore } from "react";
import { ticks } from "../parts/clock";
import type { Later } from "./fate";
import type { Waits } from "./waiting";

/** How often something was sent in vain, and why it stayed the last time. */
export interface Tries {
  count: number;
  why: Later;
  /** When it is tried next; by the clock of ticks. */
  next: number;
}

/** Milliseconds before something that stayed is tried again: twice as long each time. */
const first = 1000;
const longest = 30_000;

const tried = new Map<string, Tries>();
const heard = new Set<() => void>();
const nameOf = (w: Waits) => `${w.who}|${w.kind}|${w.id}`;

function put(w: Waits, is?: Tries): void {
  if (is) tried.set(nameOf(w), is);
  else if (!tried.delete(nameOf(w))) return;
  for (const hear of heard) hear();
}

/** Something stayed here: it waits longer each time. */
export function stayed(w: Waits, why: Later): void {
  const count = (tried.get(nameOf(w))?.count ?? 0) + 1;
  put(w, { count, why, next: ticks() + Math.min(first * 2 ** (count - 1), longest) });
}

/** It went, or is another thing now. */
export const settled = (w: Waits): void => put(w);

/** All is tried at once: the line is back, or somebody looks. */
export function tryAll(): void {
  for (const [name, t] of tried) tried.set(name, { ...t, next: 0 });
}

/** How often it was tried so far. */
export const triesOf = (w: Waits): Tries | undefined => tried.get(nameOf(w));

const onTries = (hear: () => void) => {
  heard.add(hear);
  return () => heard.delete(hear);
};

/** The tries of one thing, as a page shows them. */
export const useTries = (w: Waits): Tries | undefined => useSyncExternalStore(onTries, () => triesOf(w));
