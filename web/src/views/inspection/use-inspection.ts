import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { api, type Inspection } from "../../api/client";
import { useLine } from "../../api/line";
import { inspectHere } from "../../core/here";
import { useMe } from "../../frame/me";
import { keepAnswer } from "../../kept/answers";
import { blankOf, knownOf } from "../../kept/day";
import { inspectionKey } from "../../kept/day-keys";
import { keep } from "../../kept/store";
import { useKept } from "../../kept/use-kept";
import { useFailing } from "../../kept/use-sender";
import type { KeptInspection } from "../../kept/waiting";
import { now, ticks } from "../../parts/clock";
import { answersOf, shownOf, type Typed } from "../../parts/inspection-answers";

const nothing = (): KeptInspection => ({ mine: {} });

/** Begins an inspection on this device, where the day brought what that takes; gives its id. */
export function useBeginHere(pool: string): (id: string) => Promise<string | undefined> {
  const { id: who } = useMe();
  const queries = useQueryClient();
  return useCallback(
    async (id) => {
      const blank = await blankOf(pool);
      if (!blank) return undefined;
      const at = now().toISOString();
      const begun: Inspection = { ...blank, id, startedAt: at };
      await keepAnswer(inspectionKey(id), begun);
      queries.setQueryData(
        api.queryOptions("get", "/api/v1/inspections/{id}", { params: { path: { id } } }).queryKey,
        begun,
      );
      keep(who, "inspection", id, { mine: {}, street: blank.street, begun: { pool, at } } satisfies KeptInspection);
      return id;
    },
    [pool, who, queries],
  );
}

/** What the answers find, by this device where there is no line. */
function useFound(stands: Inspection, answers: Inspection["answers"]): Inspection {
  const { there } = useLine();
  const here = useQuery({
    queryKey: ["found here", stands.id, answers],
    queryFn: async () => {
      const known = await knownOf(stands.poolId);
      return known ? inspectHere(known, answers, now()) : null;
    },
    enabled: !there,
    placeholderData: (last) => last,
    retry: false,
  }).data;
  if (there || !here) return stands;
  const { findings, ...since } = here;
  return { ...stands, findings, before: stands.before && { ...stands.before, ...since } };
}

/** An inspection that keeps itself: every answer goes on record once it has settled, and
 *  stays on this device until it is there. */
export function useInspection(onRecord: Inspection) {
  const { value: kept, change } = useKept<KeptInspection>("inspection", onRecord.id, nothing);
  const failing = useFailing();
  const { answers, wrong } = answersOf(onRecord, kept.mine);
  const stands = useFound(onRecord, answers);
  const waits = Object.keys(kept.mine).some((item) => !wrong.includes(item));
  return {
    stands,
    answers,
    wrong,
    joined: Boolean(kept.joined),
    saving: waits,
    /** Why it is not on record: a refusal's sentence, or no line (empty). */
    trouble: kept.refused ? kept.refused.detail : failing && waits ? "" : null,
    says: (item: string) => kept.refused?.fields[`answers.${item}`] ?? "",
    shown: (item: string) => shownOf(onRecord, kept.mine, item),
    answer: (item: string, typed: Typed) =>
      change((was) => ({
        mine: { ...was.mine, [item]: { ...was.mine[item], ...typed, at: ticks() } },
        street: onRecord.street,
        refused: undefined,
      })),
    close: () => change({ closing: now().toISOString(), street: onRecord.street, refused: undefined }),
    closing: Boolean(kept.closing),
  };
}
