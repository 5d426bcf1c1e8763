import type { IDBPDatabase } from "idb";
import type { components } from "../api/schema";
import type { Known } from "../core/here";
import { dropOld } from "./age";
import type { Answer, Schema } from "./database";
import * as keys from "./day-keys";

export type Day = components["schemas"]["Pack"];

/** Keeps a day as the answers that its pages ask for, with its mark, in place of the day before. */
export async function keepDay(
  db: IDBPDatabase<Schema>,
  who: string,
  day: Pick<Day, "stops" | "zone" | "lang" | "units">,
  mark: string,
  at: number,
): Promise<void> {
  const tx = db.transaction("answers", "readwrite");
  const put = (ask: string, value: unknown) =>
    tx.store.put({ who, ask, at, contract: __CONTRACT__, value: JSON.stringify(value) } satisfies Answer);
  for (const { bench, work, pack, facts, ...stop } of day.stops) {
    const pool = bench.pool.id;
    put(keys.stopKey(bench.stopId), bench);
    put(keys.workKey(pool, bench.stopId), work);
    put(keys.workKey(pool), work);
    put(keys.poolKey(pool), stop.pool);
    put(keys.aboutKey(pool), stop.about);
    put(keys.dueKey(pool), stop.due);
    put(keys.beforeKey(pool), stop.before);
    put(keys.inspectionsKey(pool), stop.inspections);
    for (const run of stop.runs) put(keys.runKey(run.id), run);
    if (stop.inspection) put(keys.inspectionKey(stop.inspection.id), stop.inspection);
    const known: Known = { pack, facts, zone: day.zone, lang: day.lang, units: day.units };
    for (const of of [bench.stopId, pool]) put(keys.knownKey(of), known);
    put(keys.blankKey(pool), stop.blank);
  }
  put(keys.dayKey, mark);
  await tx.done;
  await dropOld(db, at);
}
