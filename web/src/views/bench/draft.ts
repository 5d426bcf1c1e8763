import { v7 as uuid } from "uuid";
import type { TypedReading } from "../../api/client";
import { useMe } from "../../frame/me";
import { now } from "../../parts/format";
import { useKept } from "../../parts/use-kept";
import { type Draft, emptyReading } from "../../parts/visit-draft";
import { ownKey, sharedKey } from "../../parts/waiting";

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

export function useDraft(stop: string) {
  const { id: me } = useMe();
  const { value, ...rest } = useKept<Draft>(ownKey(me, "visit", stop), fresh, sharedKey("visit", stop));
  return { draft: value, ...rest };
}

/** The first reading that stands at a stop's bench, as far as this device has it. */
export function firstReading(me: string, stop: string): Partial<TypedReading> {
  try {
    const kept = JSON.parse(localStorage.getItem(ownKey(me, "visit", stop)) ?? "{}") as Partial<Draft>;
    const { speed = "", tank = "", vacuum = "", flow = "", power = "", setting } = kept.readings?.[0] ?? {};
    return setting && setting !== "filter" ? {} : { speed, tank, vacuum, flow, power };
  } catch {
    return {};
  }
}
