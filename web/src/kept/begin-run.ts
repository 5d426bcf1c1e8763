import { useCallback } from "react";
import type { PoolWork, Problem } from "../api/client";
import { type Beginning, beginHere } from "../core/here";
import { useMe } from "../frame/me";
import { now } from "../parts/clock";
import { knownOf } from "./day";
import { runsKept } from "./runs-here";
import { keep } from "./store";
import type { KeptRun } from "./waiting";

/** Begins a run on this device, where the day brought what that takes; gives why it can't be begun. */
export function useBeginRun(pool: string, hold: PoolWork["hold"]): (ask: Beginning) => Promise<Problem | undefined> {
  const { id: who, name } = useMe();
  return useCallback(
    async (ask) => {
      const known = await knownOf(ask.stopId ?? pool);
      if (!known) return {} as Problem; // there is no line, and nothing here either
      const at = now();
      try {
        const run = await beginHere(known, { ...ask, poolId: pool, by: name, hold }, runsKept(who, ask.stopId), at);
        keep(who, "run", ask.id, {
          queue: [],
          last: run,
          begun: { pool, ask, at: at.toISOString() },
        } satisfies KeptRun);
        return undefined;
      } catch (refused) {
        return refused as Problem;
      }
    },
    [who, name, pool, hold],
  );
}
