import { useEffect, useMemo } from "react";
import { v7 as uuid } from "uuid";
import { api, type RunEvent, type RunView } from "../../api/client";
import { follow } from "../../kept/follow";
import { useEndedHere } from "../../kept/runs-here";
import { useKept } from "../../kept/use-kept";
import { useFailing } from "../../kept/use-sender";
import type { KeptRun } from "../../kept/waiting";
import { now } from "../../parts/clock";

/** Milliseconds between looks at what another device did. */
const lookAgain = 10_000;

const newer = (a: RunView, b: RunView | null) => !b || a.turn >= b.turn;

const nothing = (): KeptRun => ({ queue: [], last: null });
const noWords: Record<string, string> = {};

/** A run on this device: what is done here counts at once, and is sent until the server has it. */
export function useRun(id: string) {
  const { value, change } = useKept<KeptRun>("run", id, nothing);
  const { queue, last, says = noWords, moved = value.refused?.detail ?? "" } = value;
  const failing = useFailing();
  const path = useMemo(() => ({ params: { path: { id } } }), [id]);
  const server = api.useQuery("get", "/api/v1/runs/{id}", path, { refetchInterval: lookAgain, retry: false });
  useEffect(() => {
    const told = server.data;
    if (told && !told.ended) change((s) => (newer(told, s.last) ? { last: told } : {}));
  }, [server.data, change]);
  // A look that set out before the last step was sent must not put the run back.
  const base = server.data && newer(server.data, last) ? server.data : last;
  const quick = useMemo(() => (base ? follow(base, queue) : undefined), [base, queue]);
  const run = useEndedHere(quick, base, queue);
  const act = (part: Omit<RunEvent, "id" | "turn" | "at">) => {
    if (!run) return;
    const event: RunEvent = { ...part, id: uuid(), turn: run.turn, at: now().toISOString() };
    change((s) => ({ queue: [...s.queue, event], last: s.last ?? base, says: undefined, moved: undefined }));
  };
  return {
    run,
    act,
    says,
    moved,
    trouble: failing,
    waiting: queue.length,
    error: server.error,
    retry: server.refetch,
  };
}
