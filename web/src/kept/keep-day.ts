import type { IDBPDatabase } from "idb";
import type { components } from "../api/schema";
import type { Known } from "../core/here";
import { dropOld } from "./age";
import type { Answer, Schema } from "./database";
import * as keys from "./day-keys";

export type Day = components["schemas"]["Pack"];

/** What of a day the device has: the stops by the marks of what was brought. */
export type Had = Record<string, string>;

/** Keeps a day as the answers that its pages ask for; of a stop that was not sent again what stands is good. */
export async function keepDay(
  db: IDBPDatabase<Schema>,
  who: string,
  day: Pick<Day, "stops" | "zone" | "lang" | "units">,
  had: Had,
  at: number,
): Promise<void> {
  const tx = db.transaction("answers", "readwrite");
  const put = (ask: string, value: unknown) =>
    tx.store.put({ who, ask, at, contract: __CONTRACT__, value: JSON.stringify(value) } satisfies Answer);
  const has: Had = {};
  for (const { id, mark, has: brought } of day.stops) {
    has[mark] = id;
    if (!brought) continue;
    const { bench, work, pack, facts, ...stop } = brought;
    const pool = bench.pool.id;
    put(keys.stopKey(id), bench);
    put(keys.workKey(pool, id), work);
    put(keys.workKey(pool), work);
    put(keys.poolKey(pool), stop.pool);
    put(keys.aboutKey(pool), stop.about);
    put(keys.dueKey(pool), stop.due);
    put(keys.beforeKey(pool), stop.before);
    put(keys.inspectionsKey(pool), stop.inspections);
    for (const run of stop.runs) put(keys.runKey(run.id), run);
    if (stop.inspection) put(keys.inspectionKey(stop.inspection.id), stop.inspection);
    const known: Known = { pack, facts, zone: day.zone, lang: day.lang, units: day.units };
    for (const of of [id, pool]) put(keys.knownKey(of), known);
    put(keys.blankKey(pool), stop.blank);
  }
  put(keys.dayKey, has);
  await tx.done;
  if (Object.keys(had).join() !== Object.keys(has).join()) await dropOld(db, at);
}
