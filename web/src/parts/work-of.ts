import type { PoolWork } from "../api/client";

type Brief = PoolWork["procedures"][number];

/** The work that fixes a fault, its own before what fixes others too, and what tells more of it. */
export function workOf(work: PoolWork | undefined, fault: string): { fixes?: Brief; checks?: Brief } {
  const all = work?.procedures ?? [];
  const fixes = all.find((p) => p.mends[0] === fault) ?? all.find((p) => p.mends.includes(fault));
  return { fixes, checks: all.find((p) => p !== fixes && p.narrows.includes(fault)) };
}
