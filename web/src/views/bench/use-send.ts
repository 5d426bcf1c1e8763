import { useEffect } from "react";
import type { Bench } from "../../api/client";
import { now } from "../../parts/clock";
import type { useDraft } from "./draft";

const none: Record<string, string> = {};

/** Logging a draft: it is sent from whatever page is open; a mistake in it opens the sheet again. */
export function useSend(bench: Bench, { draft, change }: ReturnType<typeof useDraft>) {
  const refused = draft.refused;
  useEffect(() => {
    if (refused && draft.closedAt) change({ closedAt: undefined, closing: true });
  }, [refused, draft.closedAt, change]);
  return {
    says: refused ? (Object.keys(refused.fields).length ? refused.fields : { "": refused.detail }) : none,
    log: () =>
      change({
        closing: false,
        closedAt: now().toISOString(),
        street: bench.pool.street,
        pool: bench.pool.id,
        refused: undefined,
      }),
  };
}
