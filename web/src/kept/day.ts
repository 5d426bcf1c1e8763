import { useEffect } from "react";
import { api, type Inspection } from "../api/client";
import { useLine } from "../api/line";
import { type Known, readyCore } from "../core/here";
import { useMe } from "../frame/me";
import { keptAnswer } from "./answers";
import { blankKey, knownKey } from "./day-keys";

/** Milliseconds that a page has the line to itself before the day is fetched. */
const quiet = 5000;

/** What a stop, or a pool, is known by without a line, where the day was fetched. */
export const knownOf = (id: string): Promise<Known | undefined> =>
  keptAnswer(knownKey(id)) as Promise<Known | undefined>;

/** What the next inspection of a pool is begun with, alike. */
export const blankOf = (pool: string): Promise<Inspection | undefined> =>
  keptAnswer(blankKey(pool)) as Promise<Inspection | undefined>;

/** Brings the day to the device, beside the page: it is half a megabyte to read. */
function bring(who: string): void {
  const worker = new Worker(new URL("./day-worker.ts", import.meta.url), { type: "module" });
  worker.onmessage = () => worker.terminate();
  worker.onerror = () => worker.terminate();
  worker.postMessage(who);
}

/** Keeps a technician's day on the device, anew whenever the lap is another; loads the core when the line goes. */
export function useDay(): void {
  const { id: who, role } = useMe();
  const technician = role === "technician";
  const { there } = useLine();
  const lap = api.useQuery("get", "/api/v1/lap", {}, { enabled: technician, notifyOnChangeProps: ["data"] });
  useEffect(() => {
    if (!there) readyCore();
  }, [there]);
  useEffect(() => {
    if (!technician || !there || !lap.data) return;
    const id = setTimeout(() => bring(who), quiet);
    return () => clearTimeout(id);
  }, [technician, who, there, lap.data]);
}
