import { useQueries, useQuery } from "@tanstack/react-query";
import type { RunBrief, RunEvent, RunView } from "../api/client";
import { followHere, type RunHere } from "../core/here";
import { useMe } from "../frame/me";
import { now } from "../parts/clock";
import { knownOf } from "./day";
import { follow } from "./follow";
import { allKept, keptOf } from "./store";
import { type KeptRun, useWaiting } from "./waiting";

/** One's own runs of a stop with steps that are not on record. */
export const runsKept = (who: string, stop: string | undefined): RunHere[] =>
  allKept()
    .filter((e) => e.who === who && e.kind === "run")
    .map((e) => e.value as KeptRun)
    .flatMap(({ last, queue, begun }) =>
      last && stop && last.stopId === stop && (queue.length > 0 || begun) ? [{ run: last, queue }] : [],
    );

/** The core's account of a run after what was done here: what it comes to is in it. */
const followed = (last: RunView, queue: RunEvent[]) => ({
  queryKey: ["run here", last.id, last.turn, queue.length],
  queryFn: async () => {
    const known = await knownOf(last.stopId || last.poolId);
    return known ? followHere(known, last, queue, now()) : null;
  },
  retry: false,
  staleTime: Number.POSITIVE_INFINITY,
});

/** A run that ended here and that the server has not got yet, with what it comes to. */
export function useEndedHere(run: RunView | undefined, last: RunView | null, queue: RunEvent[]): RunView | undefined {
  const asks = last && queue.length > 0 && Boolean(run?.ended);
  const { data } = useQuery({
    ...followed(last ?? ({} as RunView), queue),
    enabled: Boolean(asks),
  });
  return (asks && data) || run;
}

/** One's own runs of a pool, or of a stop of it, whose steps are not all on record. */
export function useRunsHere(pool: string, stop?: string): RunBrief[] {
  const { id: who } = useMe();
  const kept = useWaiting()
    .filter((w) => w.kind === "run" && w.who === who && w.pool === pool)
    .map((w) => keptOf<KeptRun>(who, "run", w.id))
    .filter((k): k is KeptRun & { last: RunView } => Boolean(k?.last && (!stop || k.last.stopId === stop)));
  return useQueries({
    queries: kept.map(({ last, queue }) => followed(last, queue)),
    combine: (all) =>
      kept.flatMap(({ last, queue }, i) => {
        const quick = follow(last, queue);
        // What it comes to is taken over into the visit: not before it is known.
        return all[i]?.data ?? (quick.ended ? [] : [quick]);
      }),
  });
}
