import { hashKey, type QueryKey } from "@tanstack/react-query";
import { useEffect } from "react";
import { api } from "../api/client";
import { useLine } from "../api/line";
import type { components } from "../api/schema";
import { type Known, readyCore } from "../core/judge-here";
import { useMe } from "../frame/me";
import { keepAnswer, keptAnswer } from "./answers";

type Day = components["schemas"]["Pack"];

/** Milliseconds that a page has the line to itself before the day is fetched. */
const quiet = 2500;

const known = (stop: string) => `known ${stop}`;
const etag = "day";

/** What a stop is judged with without a line, where the day was fetched. */
export const knownOf = (stop: string): Promise<Known | undefined> =>
  keptAnswer(known(stop)) as Promise<Known | undefined>;

const stopKey = (id: string): QueryKey =>
  api.queryOptions("get", "/api/v1/stops/{id}", { params: { path: { id } } }).queryKey;
const workKey = (pool: string, stop: string): QueryKey =>
  api.queryOptions("get", "/api/v1/pools/{id}/work", { params: { path: { id: pool }, query: { stop } } }).queryKey;

/** Brings all that the day's stops ask for to the device; an unchanged day costs an empty answer. */
async function bring(): Promise<void> {
  const had = (await keptAnswer(etag)) as string | undefined;
  const answer = await fetch("/api/v1/day", { headers: had ? { "If-None-Match": had } : {} });
  if (!answer.ok) return;
  const day = (await answer.json()) as Day;
  for (const { bench, work, pack } of day.stops) {
    await keepAnswer(hashKey(stopKey(bench.stopId)), bench);
    await keepAnswer(hashKey(workKey(bench.pool.id, bench.stopId)), work);
    await keepAnswer(known(bench.stopId), { pack, zone: day.zone, lang: day.lang, units: day.units } satisfies Known);
  }
  await keepAnswer(etag, answer.headers.get("ETag") ?? "");
}

/** Keeps a technician's day on the device, anew whenever the lap is another; loads the core when the line goes. */
export function useDay(): void {
  const technician = useMe().role === "technician";
  const line = useLine();
  const lap = api.useQuery("get", "/api/v1/lap", {}, { enabled: technician, notifyOnChangeProps: ["data"] });
  const there = line.there;
  useEffect(() => {
    if (!there) readyCore();
  }, [there]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each lap that stands
  useEffect(() => {
    if (!technician || !there || !lap.data) return;
    const id = setTimeout(() => bring().catch(() => undefined), quiet);
    return () => clearTimeout(id);
  }, [technician, there, lap.data]);
}
