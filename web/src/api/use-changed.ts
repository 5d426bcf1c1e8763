import { type Query, type QueryClient, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";

/** What of the server's answers a change makes old, by how their addresses begin. */
const old = {
  /** A pool, its pad, its visits, its parts: whatever is worked out from its record. */
  pool: [
    "pools",
    "parts",
    "find",
    "lap",
    "laps",
    "week",
    "stops",
    "runs",
    "inspections",
    "visits",
    "customers",
    "track-record",
    "audit",
  ],
  /** What hangs on a pool and moves no figure: notes, pictures, links. */
  beside: ["pools", "inspections", "audit"],
  /** Who goes where and when. */
  route: ["lap", "laps", "week", "pools", "stops", "audit"],
  people: ["people", "technicians", "drivers", "week", "lap", "pools", "audit"],
  catalogue: ["catalogue", "audit"],
  jobs: ["jobs"],
  practice: ["practice"],
  me: ["me"],
  /** Units, languages, rules: all that is told. */
  everything: [""],
} as const;

export type Changed = keyof typeof old;

/** Says that something changed: the answers that it bears on are asked for again. */
export function useChanged(): (what: Changed) => Promise<void> {
  const queries = useQueryClient();
  return useCallback((what) => makeOld(queries, what), [queries]);
}

/** Asks again for the answers that a change bears on. */
export async function makeOld(queries: QueryClient, what: Changed): Promise<void> {
  const bears = (q: Query) => isOld(what, String(q.queryKey[1] ?? ""));
  // A first answer that is on its way may be from before the change: it is asked for once more.
  const first = queries
    .getQueryCache()
    .findAll({ predicate: (q) => bears(q) && q.state.fetchStatus === "fetching" && q.state.data === undefined });
  await queries.invalidateQueries({ predicate: bears });
  if (first.length) await queries.invalidateQueries({ predicate: (q) => first.includes(q) });
}

/** Whether a change makes an address's answer old. */
export function isOld(what: Changed, address: string): boolean {
  const room = address.replace(/^\/api\/v1\//, "").split("/")[0];
  return old[what].some((o) => o === "" || o === room);
}
