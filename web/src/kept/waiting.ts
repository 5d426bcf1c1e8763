import { useSyncExternalStore } from "react";
import type { PracticeAsk, Problem, RunEvent, RunView } from "../api/client";
import type { Beginning } from "../core/here";
import type { Typed } from "../parts/inspection-answers";
import type { Draft } from "../parts/visit-draft";
import type { ChangeKind } from "./changes";
import type { Entry } from "./database";
import { allKept, onKept } from "./store";

/** A refusal as it stands beside what was refused. */
export interface Refused {
  detail: string;
  /** Sentences by field. */
  fields: Record<string, string>;
}

/** The steps of a run that are done here. */
export interface KeptRun {
  /** What was done and the server has not got yet, in order. */
  queue: RunEvent[];
  /** The run as the server last told it: a page opened without a line stands on it. */
  last: RunView | null;
  /** It was begun here, without a line, and the server does not know it yet. */
  begun?: { pool: string; ask: Beginning; at: string };
  refused?: Refused;
  /** Why a step was not taken, by its field, and what another device did meanwhile. */
  says?: Record<string, string>;
  moved?: string;
}

/** The answers of an inspection that are not on record yet. */
export interface KeptInspection {
  mine: Record<string, Typed>;
  street?: string;
  /** It was begun here, without a line, and the server does not know it yet. */
  begun?: { pool: string; at: string };
  /** When it was closed: it is, once they are there. */
  closing?: string;
  /** Somebody else answered meanwhile; both are shown. */
  joined?: boolean;
  refused?: Refused;
}

/** A picture that was taken. */
export interface KeptPhoto {
  pool: string;
  ask: Record<string, string>;
  picture: Blob;
  /** When it was taken in here; the camera's own clock is in ask. */
  at?: string;
  street?: string;
  refused?: Refused;
}

/** Something that was done to a pool in one go: a part put in, a note, a decision, a move. */
export interface KeptChange {
  what: ChangeKind;
  pool: string;
  street: string;
  body: object;
  at: string;
  refused?: Refused;
}

/** A practice case as far as it is worked here. */
export interface KeptPractice {
  ask: PracticeAsk;
  title: string;
  /** The desk asked for it. */
  task?: string;
  at: string;
  /** Left: it is sent then. */
  over: boolean;
  refused?: Refused;
}

/** What is sent, by its kind. */
export interface Sent {
  visit: Draft;
  run: KeptRun;
  inspection: KeptInspection;
  photo: KeptPhoto;
  change: KeptChange;
  practice: KeptPractice;
}

export type SentKind = keyof Sent;

/** Something that this device has and the server has not. */
export interface Waits {
  kind: SentKind;
  who: string;
  /** What it belongs to: a stop, a run, an inspection; a picture's own. */
  id: string;
  street: string;
  /** A picture's pool, a change's. */
  pool?: string;
  /** A job's stop; a picture's inspection. */
  stop?: string;
  of?: string;
  /** Of a change: what it is. */
  what?: ChangeKind;
  count: number;
  /** It was begun here too. */
  begun?: boolean;
  /** The server's sentence, where it refused it. */
  refused?: string;
}

const counts: {
  [K in SentKind]: (
    kept: Sent[K],
  ) => Pick<Waits, "count" | "refused" | "pool" | "what" | "begun" | "stop" | "of"> & { street?: string };
} = {
  visit: (d) => ({ count: d.closedAt ? 1 : 0, street: d.street, refused: d.refused?.detail }),
  run: (r) => ({
    count: r.queue?.length ?? 0,
    begun: Boolean(r.begun),
    street: r.last?.street,
    pool: r.last?.poolId,
    stop: r.last?.stopId || r.begun?.ask.stopId,
    refused: r.refused?.detail,
  }),
  inspection: (i) => ({
    count: Object.keys(i.mine ?? {}).length || (i.closing ? 1 : 0),
    begun: Boolean(i.begun),
    street: i.street,
    refused: i.refused?.detail,
  }),
  change: (c) => ({ count: 1, pool: c.pool, street: c.street, what: c.what, refused: c.refused?.detail }),
  practice: (p) => ({ count: p.over ? 1 : 0, street: p.title, refused: p.refused?.detail }),
  photo: (p) => ({
    count: 1,
    pool: p.pool,
    street: p.street,
    of: p.ask?.inspection,
    refused: p.refused?.detail,
  }),
};

const isSent = (kind: string): kind is SentKind => kind in counts;

function waits({ who, kind, id, value }: Entry): Waits[] {
  if (!isSent(kind)) return [];
  const { street = "", ...of } = counts[kind](value as never);
  return of.count > 0 || of.begun ? [{ kind, who, id, street, ...of }] : [];
}

let told = "[]";
let stands: Waits[] = [];

/** What waits now; the same list as long as nothing in it is another. */
export function waitsNow(): Waits[] {
  const next = allKept().flatMap(waits);
  const says = JSON.stringify(next);
  if (says !== told) {
    told = says;
    stands = next;
  }
  return stands;
}

/** What waits on this device, of every tab and person. */
export const useWaiting = (): Waits[] => useSyncExternalStore(onKept, waitsNow);

let practising = "[]";
let open: { id: string; title: string }[] = [];

/** The practice cases that somebody has under way here; the same list while nothing in it is another. */
export const usePractising = (who: string): { id: string; title: string }[] =>
  useSyncExternalStore(onKept, () => {
    const next = allKept()
      .filter((e) => e.kind === "practice" && e.who === who && !(e.value as KeptPractice).over)
      .map((e) => ({ id: e.id, title: (e.value as KeptPractice).title }));
    const says = JSON.stringify(next);
    if (says !== practising) {
      practising = says;
      open = next;
    }
    return open;
  });

/** What a refusal says: the sentence at its field before the general one. */
export function refusalOf(problem: Problem, fields: Record<string, string>): Refused {
  return { detail: Object.values(fields)[0] ?? problem.detail ?? "", fields };
}
