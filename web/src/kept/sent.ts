import { now, today } from "../parts/clock";
import type { Draft } from "../parts/visit-draft";
import { allKept, keep, keptOf } from "./store";
import type { KeptInspection, KeptRun, Sent, SentKind } from "./waiting";

/** Milliseconds that what was sent stays here: a server that was restored from a backup is filled again from it. */
export const sentFor = 7 * 86_400_000;

/** Something that the server said it has. */
export interface SentThing<K extends SentKind = SentKind> {
  kind: K;
  /** What it waited under. */
  id: string;
  at: string;
  /** The company's own day of that. */
  day: string;
  value: Sent[K];
  /** How often it was sent again because the server had lost it. */
  again?: number;
}

/** Two visits of one stop, of which the second corrects the first, are two. */
const nameOf = (kind: SentKind, id: string, value: object) =>
  `${kind}|${kind === "visit" ? (value as Draft).visitId : id}`;

/** What was sent of a run or of an inspection piece by piece, in one. */
function joined(kind: SentKind, was: object | undefined, is: object): object {
  if (kind === "run") {
    const [a, b] = [was as KeptRun | undefined, is as KeptRun];
    const old = (a?.queue ?? []).filter((e) => !b.queue.some((x) => x.id === e.id));
    return { queue: [...old, ...b.queue], last: b.last ?? a?.last ?? null, begun: b.begun ?? a?.begun };
  }
  if (kind === "inspection") {
    const [a, b] = [was as KeptInspection | undefined, is as KeptInspection];
    return { ...a, ...b, mine: { ...a?.mine, ...b.mine }, begun: b.begun ?? a?.begun };
  }
  return is;
}

/** Keeps what was sent for a week. */
export function keepSent<K extends SentKind>(who: string, kind: K, id: string, value: Sent[K]): void {
  const name = nameOf(kind, id, value);
  const was = keptOf<SentThing<K>>(who, "sent", name);
  const thing = { ...was, kind, id, at: now().toISOString(), day: today(), value: joined(kind, was?.value, value) };
  keep(who, "sent", name, thing, true);
}

/** What somebody sent from here in the last week. */
export const sentBy = (who: string): SentThing[] =>
  allKept()
    .filter((e) => e.kind === "sent" && e.who === who)
    .map((e) => e.value as SentThing);

/** Puts something in the line again, since the server has lost it. Gives whether it is. */
export function putBack(who: string, thing: SentThing, lost: (id: string) => boolean): boolean {
  const { kind, id, value, again = 0 } = thing;
  const waits = keptOf<KeptRun>(who, kind, id);
  if (waits && kind !== "run") return false; // something newer stands in its place: when that is gone
  let back: object = value;
  if (kind === "run") {
    const run = value as KeptRun;
    const begun = run.begun && lost(id) ? run.begun : undefined;
    const queue = run.queue.filter((e) => begun || lost(e.id));
    const newer = (waits?.queue ?? []).filter((e) => !queue.some((x) => x.id === e.id));
    back = { ...waits, last: waits?.last ?? run.last, queue: [...queue, ...newer], begun };
  }
  keep(who, kind, id, back);
  keep(who, "sent", nameOf(kind, id, value), { ...thing, again: again + 1 }, true);
  return true;
}
