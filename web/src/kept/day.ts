import { useEffect } from "react";
import { api } from "../api/client";
import { useLine } from "../api/line";
import { type Known, readyCore } from "../core/judge-here";
import { useMe } from "../frame/me";
import { keptAnswer } from "./answers";
import { knownKey } from "./day-keys";

/** Milliseconds that a page has the line to itself before the day is fetched. */
const quiet = 5000;

/** What a stop is judged with without a line, where the day was fetched. */
export const knownOf = (stop: string): Promise<Known | undefined> =>
  keptAnswer(knownKey(stop)) as Promise<Known | undefined>;

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
