import type { Findings, TypedReading, VisitDraft } from "../api/client";
import type { Refused } from "../kept/waiting";
import { now } from "./clock";
import { readFigure } from "./read-figure";

export type WorkKind = VisitDraft["works"][number]["kind"];

/** A stop as it is being worked: kept on this device until the server has it. */
export interface Draft {
  visitId: string;
  arrivedAt: string;
  /** How somebody says that the pump is, in order. */
  said?: NonNullable<Findings["said"]>;
  readings: TypedReading[];
  signs: Record<string, boolean>;
  /** When each was answered: work at the stop parts what was seen before it from what was seen after. */
  signsAt?: Record<string, string>;
  /** All answers in their order: what was looked for again after work was answered twice. */
  seen?: NonNullable<Findings["seen"]>;
  /** Somebody called: no routine visit. */
  called?: boolean;
  works: WorkKind[];
  workNote: string;
  after: TypedReading;
  /** When the cleaning was ticked. */
  cleanedAt?: string;
  chemicals: boolean;
  /** When they went in, where a run says it. */
  chemicalsAt?: string;
  /** Guided runs whose results are in here. */
  taken?: string[];
  /** Timed, as typed. */
  prime?: string;
  drain?: string;
  confirmed: string;
  confirmedHow: string;
  note: string;
  /** Why the pad is left unlike daily use, where it is. */
  leftReason?: string;
  corrects?: string;
  closing: boolean;
  /** Set when the technician logged it; it is sent until the server has it. */
  closedAt?: string;
  /** Of what it is, for whoever reads what waits, and for a server that does not know the stop any more. */
  street?: string;
  pool?: string;
  /** Why the server did not take it. */
  refused?: Refused;
}

export const emptyReading = (): TypedReading => ({ speed: "", tank: "", vacuum: "", flow: "", power: "" });

const typedIn = (r: TypedReading) => Object.values(r).some((v) => v?.trim());

/** What of a draft is judged. */
export type Judged = Pick<
  Draft,
  "readings" | "signs" | "signsAt" | "seen" | "called" | "said" | "works" | "after" | "cleanedAt"
>;

/** What is judged of a draft: a cleaning that no run did is in it, with what was read after it. */
export const findingsOf = (d: Judged): Findings => ({
  readings: d.readings,
  signs: d.signs,
  signsAt: d.signsAt,
  seen: d.seen?.length ? d.seen.filter((x) => x.sign in d.signs) : undefined,
  called: d.called,
  said: d.said?.length ? d.said : undefined,
  cleaned:
    d.cleanedAt && d.works.includes("cleaned")
      ? { at: d.cleanedAt, after: typedIn(d.after) ? d.after : undefined }
      : undefined,
});

/** Readings with the time on those rows that were typed just now. */
export const stamped = (was: TypedReading[], is: TypedReading[]): TypedReading[] =>
  is.map((r, i) => (r === was[i] ? r : { ...r, at: now().toISOString() }));

/** A figure that is none is sent as nought, which the server refuses in words. */
const seconds = (text?: string) => (text?.trim() ? readFigure(text) || 0 : undefined);

/** What the server is sent when a draft is logged. */
export function asVisit(stop: string, d: Draft): VisitDraft {
  const cleaned = d.works.includes("cleaned");
  return {
    id: d.visitId,
    stopId: stop,
    poolId: d.pool,
    arrivedAt: d.arrivedAt,
    closedAt: d.closedAt ?? now().toISOString(),
    findings: findingsOf(d),
    after: cleaned && typedIn(d.after) ? d.after : undefined,
    works: d.works.map((kind) => ({ kind, note: kind === "other" || kind === "part" ? d.workNote : "" })),
    primeSeconds: seconds(d.prime),
    drainSeconds: seconds(d.drain),
    chemicalsAt: d.chemicals ? (d.chemicalsAt ?? d.closedAt) : undefined,
    confirmed: d.confirmed,
    confirmedHow: d.confirmedHow,
    note: d.note,
    leftReason: d.leftReason?.trim() || undefined,
    corrects: d.corrects,
  };
}
