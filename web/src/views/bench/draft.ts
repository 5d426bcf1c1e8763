import { useCallback, useEffect, useState } from "react";
import { v7 as uuid } from "uuid";
import type { TypedReading, VisitDraft } from "../../api/client";
import { now } from "../../parts/format";
import type { PumpState } from "../../parts/pump-plate";

export type WorkKind = VisitDraft["works"][number]["kind"];

/** A stop as it is being worked: kept on this device until the server has it. */
export interface Draft {
  visitId: string;
  arrivedAt: string;
  pump: PumpState;
  readings: TypedReading[];
  signs: Record<string, boolean>;
  works: WorkKind[];
  workNote: string;
  after: TypedReading;
  chemicals: boolean;
  confirmed: string;
  confirmedHow: string;
  note: string;
  corrects?: string;
  closing: boolean;
  /** Set when the technician logged it; it is sent until the server has it. */
  closedAt?: string;
}

export const emptyReading = (): TypedReading => ({ speed: "", tank: "", vacuum: "", flow: "", power: "" });

const key = (stop: string) => `fairlap.draft.${stop}`;

function fresh(): Draft {
  return {
    visitId: uuid(),
    arrivedAt: now().toISOString(),
    pump: "unknown",
    readings: [emptyReading()],
    signs: {},
    works: [],
    workNote: "",
    after: emptyReading(),
    chemicals: false,
    confirmed: "",
    confirmedHow: "",
    note: "",
    closing: false,
  };
}

function load(stop: string): Draft {
  try {
    const kept = localStorage.getItem(key(stop));
    if (kept) return { ...fresh(), ...JSON.parse(kept) };
  } catch {
    // Storage is shut or the draft is not readable: start afresh.
  }
  return fresh();
}

export function useDraft(stop: string) {
  const [draft, setDraft] = useState<Draft>(() => load(stop));
  const [kept, setKept] = useState(true);
  useEffect(() => {
    try {
      localStorage.setItem(key(stop), JSON.stringify(draft));
      setKept(true);
    } catch {
      setKept(false);
    }
  }, [stop, draft]);
  const change = useCallback((part: Partial<Draft>) => setDraft((d) => ({ ...d, ...part })), []);
  const clear = useCallback(() => {
    localStorage.removeItem(key(stop));
    setDraft(fresh());
  }, [stop]);
  return { draft, change, clear, kept };
}

/** What the server is sent when a draft is logged. */
export function asVisit(stop: string, d: Draft): VisitDraft {
  const cleaned = d.works.includes("cleaned");
  return {
    id: d.visitId,
    stopId: stop,
    arrivedAt: d.arrivedAt,
    closedAt: d.closedAt ?? now().toISOString(),
    findings: { readings: d.readings, signs: d.signs },
    after: cleaned && Object.values(d.after).some((v) => v?.trim()) ? d.after : undefined,
    works: d.works.map((kind) => ({ kind, note: kind === "other" || kind === "part" ? d.workNote : "" })),
    chemicalsAt: d.chemicals ? d.closedAt : undefined,
    confirmed: d.confirmed,
    confirmedHow: d.confirmedHow,
    note: d.note,
    corrects: d.corrects,
  };
}
