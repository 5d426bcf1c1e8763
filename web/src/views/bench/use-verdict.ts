import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { api, type Bench, type Findings, fieldSays, mayPass, type Problem, type Verdict } from "../../api/client";
import { judgeHere } from "../../core/judge-here";
import { knownOf } from "../../kept/day";
import { now } from "../../parts/format";
import { useSettled } from "../../parts/use-settled";

/** Nothing is read, seen or told yet: the stop came with the answer to that. */
const unread = (f: Findings) =>
  !f.called && Object.keys(f.signs).length === 0 && f.readings.every((r) => !Object.values(r).some(Boolean));

/** The server's answer; without a line this device's own, where it has the day. */
async function orHere(stop: string, findings: Findings, server: () => Verdict | Promise<Verdict>): Promise<Verdict> {
  try {
    return await server();
  } catch (error) {
    const known = mayPass(error) ? await knownOf(stop) : undefined;
    if (!known) throw error;
    return judgeHere(known, findings, now());
  }
}

/** The engine's answer to what is typed. An answer belongs to its question: a late one never replaces a newer. */
export function useVerdict({ stopId: stop, verdict: before }: Bench, findings: Findings) {
  const settled = useSettled(findings);
  const asked = api.queryOptions("post", "/api/v1/stops/{id}/diagnosis", {
    params: { path: { id: stop } },
    body: settled,
  });
  const answer = useQuery({
    ...asked,
    queryFn: (context) => orHere(stop, settled, () => asked.queryFn(context)),
    retry: false,
    staleTime: 60_000,
    placeholderData: (last: Verdict | undefined) => last,
    initialData: unread(settled) ? before : undefined,
  });
  const last = useRef<Verdict | undefined>(undefined);
  if (answer.data) last.current = answer.data;
  const problem = answer.isError ? (answer.error as Problem) : null;
  return {
    verdict: answer.data ?? last.current,
    stale: answer.isPlaceholderData || answer.isError || settled !== findings,
    says: fieldSays(problem),
    trouble: problem && problem.status !== 422 ? problem : null,
    retry: () => answer.refetch(),
  };
}
