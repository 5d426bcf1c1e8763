import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { v7 as uuid } from "uuid";
import { api, fieldSays, http, mayPass, type Problem, type RunEvent, type RunView } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { useMe } from "../../frame/me";
import { now } from "../../parts/format";
import { useKept } from "../../parts/use-kept";
import { ownKey, sharedKey } from "../../parts/waiting";
import { follow } from "./follow";

/** Milliseconds between tries to send what waits, and between looks at what another device did. */
const sendAgain = 4000;
const lookAgain = 10_000;

interface Kept {
  /** What was done and the server has not got yet, in order. */
  queue: RunEvent[];
  /** The run as the server last told it: a page opened without a line stands on it. */
  last: RunView | null;
}

const newer = (a: RunView, b: RunView | null) => !b || a.turn >= b.turn;

/** The first event that was refused: those before it are sound, and are sent again without it. */
const firstWrong = (says: Record<string, string>) => {
  const at = Object.keys(says).map((k) => Number(/^events\[(\d+)\]/.exec(k)?.[1] ?? 0));
  return at.length ? Math.min(...at) : 0;
};

const nothing = (): Kept => ({ queue: [], last: null });

/** A run on this device: what is done here counts at once, and is sent until the server has it. */
export function useRun(id: string) {
  const queries = useQueryClient();
  const changed = useChanged();
  const { id: me } = useMe();
  const kept = useKept<Kept>(ownKey(me, "run", id), nothing, sharedKey("run", id));
  const { queue, last } = kept.value;
  const { change } = kept;
  const path = useMemo(() => ({ params: { path: { id } } }), [id]);
  const server = api.useQuery("get", "/api/v1/runs/{id}", path, { refetchInterval: lookAgain, retry: false });
  const [says, setSays] = useState<Record<string, string>>({});
  const [moved, setMoved] = useState("");
  const [trouble, setTrouble] = useState(false);
  const [tries, setTries] = useState(0);
  const [sending, setSending] = useState(false);
  const stands = useCallback(
    (run: RunView) => {
      queries.setQueryData(api.queryOptions("get", "/api/v1/runs/{id}", path).queryKey, run);
      change({ last: run });
    },
    [queries, path, change],
  );
  useEffect(() => {
    const told = server.data;
    if (told) change((s) => (newer(told, s.last) ? { last: told } : {}));
  }, [server.data, change]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: one try a change of the queue, or of tries
  useEffect(() => {
    if (queue.length === 0 || sending) return;
    const timer = setTimeout(
      async () => {
        setSending(true);
        const sent = queue;
        const drop = (gone: RunEvent[]) =>
          change((s) => ({ queue: s.queue.filter((e) => !gone.some((g) => g.id === e.id)) }));
        try {
          const { data, error } = await http.POST("/api/v1/runs/{id}/events", { ...path, body: { events: sent } });
          if (data) {
            stands(data);
            drop(sent);
            setTrouble(false);
            if (data.ended) changed("pool");
          } else if (mayPass(error) || (error as Problem).status === 401) {
            setTrouble(true);
            setTries((n) => n + 1);
          } else {
            let from = 0;
            const now = (error as Problem).errors?.[0]?.value as RunView | undefined;
            if ((error as Problem).status === 409 && now) {
              setMoved((error as Problem).detail ?? "");
              stands(now);
            } else {
              const told = fieldSays(error as Problem);
              setSays(told);
              from = firstWrong(told);
            }
            drop(sent.slice(from));
          }
        } catch {
          setTrouble(true);
          setTries((n) => n + 1);
        }
        setSending(false);
      },
      trouble ? sendAgain : 0,
    );
    return () => clearTimeout(timer);
  }, [queue, sending, tries]);
  useEffect(() => {
    const again = () => setTries((n) => n + 1);
    window.addEventListener("online", again);
    return () => window.removeEventListener("online", again);
  }, []);

  // A look that set out before the last step was sent must not put the run back.
  const base = server.data && newer(server.data, last) ? server.data : last;
  const run = useMemo(() => (base ? follow(base, queue) : undefined), [base, queue]);
  const act = (part: Omit<RunEvent, "id" | "turn" | "at">) => {
    if (!run) return;
    setSays({});
    setMoved("");
    const event: RunEvent = { ...part, id: uuid(), turn: run.turn, at: now().toISOString() };
    change((s) => ({ queue: [...s.queue, event] }));
  };
  return { run, act, says, moved, trouble, waiting: queue.length, error: server.error, retry: server.refetch };
}
