import type { PoolWork } from "../api/client";

type Brief = PoolWork["procedures"][number];

/** The work that fixes a fault, its own before what fixes others too, and what tells more of it. */
export function workOf(work: PoolWork | undefined, fault: string): { fixes?: Brief; checks?: Brief } {
  const all = work?.procedures ?? [];
  const quickest = (of: Brief[]) => [...of].sort((a, b) => a.minutes - b.minutes)[0];
  const fixes =
    quickest(all.filter((p) => p.mends[0] === fault)) ?? quickest(all.filter((p) => p.mends.includes(fault)));
  return { fixes, checks: all.find((p) => p !== fixes && p.narrows.includes(fault)) };
}
