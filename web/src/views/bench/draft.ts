import { useEffect } from "react";
import { v7 as uuid } from "uuid";
import type { TypedReading } from "../../api/client";
import { keptOf } from "../../kept/store";
import { useKept } from "../../kept/use-kept";
import { now } from "../../parts/clock";
import { type Draft, emptyReading } from "../../parts/visit-draft";

function fresh(): Draft {
  return {
    visitId: uuid(),
    arrivedAt: now().toISOString(),
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

export function useDraft(stop: string) {
  const { value, ...rest } = useKept<Draft>("visit", stop, fresh);
  const { begin } = rest;
  // Opened is begun: when somebody came to the pad is kept before anything is typed.
  useEffect(begin, [begin]);
  return { draft: value, ...rest };
}

/** What was just logged, for as long as it may be taken back and a little longer. */
export interface JustSaved {
  visit: string;
  at: string;
  draft: Draft;
}

const nothing = (): Partial<JustSaved> => ({});

/** The visit of a stop that was just logged on this device, until it is taken back or another follows. */
export function useSaved(stop: string) {
  const { value, clear } = useKept<Partial<JustSaved>>("saved", stop, nothing);
  return { saved: value.visit ? (value as JustSaved) : undefined, clear };
}

/** The last reading at a stop's bench, as far as this device has it. */
export function lastReading(me: string, stop: string): Partial<TypedReading> {
  const kept = keptOf<Draft>(me, "visit", stop);
  const { speed = "", tank = "", vacuum = "", flow = "", power = "", setting } = kept?.readings.at(-1) ?? {};
  return setting && setting !== "filter" ? {} : { speed, tank, vacuum, flow, power };
}
