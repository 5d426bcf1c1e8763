import { useEffect, useSyncExternalStore } from "react";
import { http } from "../api/client";
import { useLine } from "../api/line";
import { ours } from "../api/proof";
import type { components } from "../api/schema";
import { useMe } from "../frame/me";
import { today } from "../parts/clock";
import { putBack, type SentThing, sentBy } from "./sent";
import { onKept } from "./store";
import type { KeptInspection, KeptRun } from "./waiting";

type Receipts = components["schemas"]["Receipts"];

/** Milliseconds after something was sent, and between two looks, until it is asked what is on record. */
const soon = 4000;
const between = 1_800_000;

/** Something is sent again so often at the most: what the server won't keep would go round for ever. */
const mostAgain = 3;

/** The ids that a server is asked about, of one thing. */
function idsOf({ kind, id, value }: SentThing): string[] {
  if (kind === "visit") return [(value as { visitId: string }).visitId];
  if (kind === "run") return [...((value as KeptRun).begun ? [id] : []), ...(value as KeptRun).queue.map((e) => e.id)];
  return [id];
}

/** Whether all of something is on record. */
function isThere(thing: SentThing, has: Set<string>, { inspections }: Receipts): boolean {
  if (thing.kind !== "inspection") return idsOf(thing).every((id) => has.has(id));
  const there = inspections.find((i) => i.id === thing.id);
  const { mine, closing } = thing.value as KeptInspection;
  const items = Object.keys(mine);
  if (!there || (closing && !there.closed)) return false;
  return items.length === 0 || items.some((item) => there.items.includes(item));
}

/** How much of what was sent from here today is on record; undefined until the server said so. */
export interface Receipt {
  has: number;
  of: number;
}

let told: Receipt | undefined;
const heard = new Set<() => void>();
const onTold = (hear: () => void) => {
  heard.add(hear);
  return () => heard.delete(hear);
};

/** The receipt of the day. */
export const useReceipt = (): Receipt | undefined => useSyncExternalStore(onTold, () => told);

/** Asks the server what it has of what was sent from here, and sends again what it lost. Gives how much that is. */
export async function askReceipts(who: string): Promise<number> {
  const things = sentBy(who);
  if (things.length === 0) return 0;
  const ids = things.flatMap(idsOf).slice(-5000);
  const { data, response } = await http.POST("/api/v1/receipts", { body: { ids }, headers: { "Made-By": who } });
  if (!data || !ours(response)) return 0;
  const has = new Set(data.has);
  const day = today();
  const receipt = { has: 0, of: 0 };
  let back = 0;
  for (const thing of things) {
    const there = isThere(thing, has, data);
    if (thing.day === day) {
      receipt.of += 1;
      if (there) receipt.has += 1;
    }
    if (!there && (thing.again ?? 0) < mostAgain && putBack(who, thing, (id) => !has.has(id))) back += 1;
  }
  told = receipt;
  for (const hear of heard) hear();
  return back;
}

/** Asks for receipts soon after something was sent, when the line comes back, and now and then. */
export function useReceipts(): void {
  const { id: who } = useMe();
  const { there } = useLine();
  useEffect(() => {
    if (!there) return;
    let timer: ReturnType<typeof setTimeout>;
    let last = "";
    const ask = async () => {
      await askReceipts(who).catch(() => undefined); // without a line it is asked when that is back
      timer = setTimeout(ask, between);
    };
    const look = () => {
      const is = sentBy(who).reduce((at, thing) => (thing.at > at ? thing.at : at), "");
      if (is === last) return;
      last = is;
      clearTimeout(timer);
      timer = setTimeout(ask, soon);
    };
    look();
    const stop = onKept(look);
    return () => {
      clearTimeout(timer);
      stop();
    };
  }, [who, there]);
}
