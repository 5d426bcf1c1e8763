import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { api, type Bench, fieldSays, mayPass, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { now } from "../../parts/format";
import { asVisit, type Draft } from "../../parts/visit-draft";
import type { useDraft } from "./draft";

/** Milliseconds between tries to send a logged visit. */
const sendAgain = 4000;

/** What was just logged, as its page's state keeps it: enough to take it back. */
export interface JustSaved {
  visit: string;
  at: string;
  draft: Draft;
}

/** A visit's findings sit one level deeper than the bench's. */
const renamed = (fields: Record<string, string>) =>
  Object.fromEntries(Object.entries(fields).map(([k, v]) => [k.replace(/^findings\./, ""), v]));

/** Sends a logged draft until the server has it; a mistake in it opens the sheet again. */
export function useSend(bench: Bench, { draft, change, clear }: ReturnType<typeof useDraft>) {
  const changed = useChanged();
  const go = useNavigate();
  const [says, setSays] = useState<Record<string, string>>({});
  const save = api.useMutation("post", "/api/v1/visits");
  const waiting = Boolean(draft.closedAt) && !save.isPending && !save.isSuccess;
  // biome-ignore lint/correctness/useExhaustiveDependencies: one try a change of waiting
  useEffect(() => {
    if (!waiting) return;
    const id = setTimeout(
      () =>
        save.mutate(
          { body: asVisit(bench.stopId, draft) },
          {
            onSuccess: (v) => {
              const saved: JustSaved = { visit: v.id, at: now().toISOString(), draft };
              clear();
              save.reset();
              changed("pool");
              go(`/stops/${bench.stopId}`, { state: { saved }, replace: true });
              window.scrollTo(0, 0);
            },
            onError: (e) => {
              if (mayPass(e) || (e as Problem).status === 401) return;
              const fields = fieldSays(e as Problem);
              setSays(Object.keys(fields).length ? renamed(fields) : { "": (e as Problem).detail ?? "" });
              change({ closedAt: undefined, refused: undefined, closing: true });
            },
          },
        ),
      save.isError ? sendAgain : 0,
    );
    return () => clearTimeout(id);
  }, [waiting, save.failureCount, save.isError]);
  return {
    says,
    log: () => {
      setSays({});
      save.reset();
      change({ closing: false, closedAt: now().toISOString(), street: bench.pool.street, refused: undefined });
    },
  };
}
