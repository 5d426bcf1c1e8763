import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useRef } from "react";
import { api, type Bench, type Findings, fieldSays, type Problem, type Verdict } from "../../api/client";
import { judgeHere } from "../../core/here";
import { useMe } from "../../frame/me";
import { now } from "../../parts/clock";
import { useSettled } from "../../parts/use-settled";
import { orHere } from "./or-here";

/** Nothing is read, seen or told yet. */
const unread = (f: Findings) =>
  !f.called &&
  !f.said &&
  !f.cleaned &&
  Object.keys(f.signs).length === 0 &&
  f.readings.every((r) => !Object.values(r).some(Boolean));

/**
 * The engine's answer to what is typed, and to the runs of the stop as far as they came. An answer belongs to its
 * question: a late one never replaces a newer.
 */
export function useVerdict({ stopId: stop, verdict: opened }: Bench, findings: Findings, runs: string) {
  const { id: who } = useMe();
  const settled = useSettled(findings);
  // The stop came with the answer to a page on which nothing is read, and keeps it up to date.
  const given = unread(settled) && !runs ? opened : undefined;
  const asked = api.queryOptions("post", "/api/v1/stops/{id}/diagnosis", {
    params: { path: { id: stop } },
    body: settled,
  });
  const answer = useQuery({
    ...asked,
    queryKey: [...asked.queryKey, runs] as unknown as typeof asked.queryKey,
    queryFn: (context) =>
      orHere<Verdict>(
        who,
        stop,
        () => asked.queryFn(context),
        (known, runs) => judgeHere(known, settled, runs, now()),
      ),
    retry: false,
    staleTime: 60_000,
    enabled: !given,
    placeholderData: (last: Verdict | undefined) => last,
  });
  const last = useRef<Verdict | undefined>(undefined);
  if (given ?? answer.data) last.current = given ?? answer.data;
  // Drawn in slices, behind the next key.
  const verdict = useDeferredValue(last.current);
  const problem = answer.isError && !given ? (answer.error as Problem) : null;
  return {
    verdict,
    stale:
      verdict !== last.current ||
      (!given && (answer.isPlaceholderData || answer.isPending || answer.isError)) ||
      settled !== findings,
    says: fieldSays(problem),
    trouble: problem && problem.status !== 422 ? problem : null,
    retry: () => answer.refetch(),
  };
}
