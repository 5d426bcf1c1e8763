/// <reference lib="webworker" />
import type { components } from "../api/schema";
import type { Known } from "../core/here";
import { type Answer, database } from "./database";
import * as keys from "./day-keys";

type Day = components["schemas"]["Pack"];

/** Brings all that the day's stops ask for to the device; an unchanged day costs an empty answer. */
async function bring(who: string): Promise<void> {
  const db = await database();
  const had = await db.get("answers", [who, keys.dayKey]);
  const known = had?.contract === __CONTRACT__ ? { "If-None-Match": JSON.parse(had.value) } : undefined;
  const answer = await fetch("/api/v1/day", { headers: { ...known, "Made-By": who } });
  if (!answer.ok) return;
  const day = (await answer.json()) as Day;
  const tx = db.transaction("answers", "readwrite");
  const at = Date.now();
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
    put(keys.inspectionsKey(pool), stop.inspections);
    for (const run of stop.runs) put(keys.runKey(run.id), run);
    if (stop.inspection) put(keys.inspectionKey(stop.inspection.id), stop.inspection);
    const known: Known = { pack, facts, zone: day.zone, lang: day.lang, units: day.units };
    for (const of of [bench.stopId, pool]) put(keys.knownKey(of), known);
    put(keys.blankKey(pool), stop.blank);
  }
  put(keys.dayKey, answer.headers.get("ETag") ?? "");
  await tx.done;
}

addEventListener("message", ({ data }: MessageEvent<string>) =>
  bring(data).then(
    () => postMessage("done"),
    () => postMessage("later"), // the next change of the lap tries again
  ),
);
