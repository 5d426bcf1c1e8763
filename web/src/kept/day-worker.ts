/// <reference lib="webworker" />
import type { components } from "../api/schema";
import type { Known } from "../core/judge-here";
import { type Answer, database } from "./database";
import { dayKey, knownKey, stopKey, workKey } from "./day-keys";

type Day = components["schemas"]["Pack"];

/** Brings all that the day's stops ask for to the device; an unchanged day costs an empty answer. */
async function bring(who: string): Promise<void> {
  const db = await database();
  const had = await db.get("answers", [who, dayKey]);
  const known = had?.contract === __CONTRACT__ ? { "If-None-Match": JSON.parse(had.value) } : undefined;
  const answer = await fetch("/api/v1/day", { headers: { ...known, "Made-By": who } });
  if (!answer.ok) return;
  const day = (await answer.json()) as Day;
  const tx = db.transaction("answers", "readwrite");
  const at = Date.now();
  const put = (ask: string, value: unknown) =>
    tx.store.put({ who, ask, at, contract: __CONTRACT__, value: JSON.stringify(value) } satisfies Answer);
  for (const { bench, work, pack } of day.stops) {
    put(stopKey(bench.stopId), bench);
    put(workKey(bench.pool.id, bench.stopId), work);
    put(knownKey(bench.stopId), { pack, zone: day.zone, lang: day.lang, units: day.units } satisfies Known);
  }
  put(dayKey, answer.headers.get("ETag") ?? "");
  await tx.done;
}

addEventListener("message", ({ data }: MessageEvent<string>) =>
  bring(data).then(
    () => postMessage("done"),
    () => postMessage("later"), // the next change of the lap tries again
  ),
);
