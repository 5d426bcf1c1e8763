import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, fieldSays, type Inspection, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { useMe } from "../../frame/me";
import { readFigure } from "../../parts/read-figure";
import { useKept } from "../../parts/use-kept";
import { useSettled } from "../../parts/use-settled";
import { ownKey, sharedKey } from "../../parts/waiting";

/** What was answered here and is not yet on record; a figure as it was typed. */
export interface Typed {
  value?: string;
  yes?: boolean | null;
  note?: string;
}

interface Kept {
  mine: Record<string, Typed>;
}

const nothing = (): Kept => ({ mine: {} });

/** What an item shows: the record, and over it what was typed here. */
function shownOf(stands: Inspection, mine: Kept["mine"], item: string): Typed {
  const a = stands.answers[item];
  const own = mine[item] ?? {};
  return {
    value: own.value ?? (a?.value == null ? "" : String(a.value)),
    yes: own.yes === undefined ? (a?.yes ?? null) : own.yes,
    note: own.note ?? a?.note ?? "",
  };
}

/** Answers as they would be kept, and the items whose figure is none yet. */
function answersOf(stands: Inspection, mine: Kept["mine"]) {
  const answers: Inspection["answers"] = { ...stands.answers };
  const wrong: string[] = [];
  for (const item of Object.keys(mine)) {
    const typed = shownOf(stands, mine, item);
    const value = typed.value === "" ? undefined : readFigure(typed.value ?? "");
    if (Number.isNaN(value)) {
      wrong.push(item);
      continue;
    }
    answers[item] = { value, yes: typed.yes ?? undefined, note: typed.note || undefined };
  }
  return { answers, wrong };
}

/** An inspection that keeps itself: every answer goes on record once it has settled, and
 *  stays on this device until it is there. */
export function useInspection(stands: Inspection) {
  const queries = useQueryClient();
  const changed = useChanged();
  const { id: me } = useMe();
  const [joined, setJoined] = useState(false);
  const [ending, setEnding] = useState(false);
  const {
    value: kept,
    change,
    clear,
  } = useKept(ownKey(me, "inspection", stands.id), nothing, sharedKey("inspection", stands.id));
  const settled = useSettled(kept.mine);
  const at = { params: { path: { id: stands.id } } };
  const save = api.useMutation("put", "/api/v1/inspections/{id}", {
    onError: (e) => {
      if ((e as Problem).status !== 409) setEnding(false);
      else {
        setJoined(true);
        queries.invalidateQueries({ queryKey: ["get", "/api/v1/inspections/{id}"] });
      }
    },
  });
  const { answers, wrong } = answersOf(stands, kept.mine);
  const open = stands.closedAt == null;
  const send = (mine: Kept["mine"], close: boolean) =>
    save.mutate(
      { ...at, body: { answers: answersOf(stands, mine).answers, version: stands.version, close } },
      {
        onSuccess: (next) => {
          queries.setQueryData(["get", "/api/v1/inspections/{id}", at], next);
          if (close) {
            clear();
            changed("pool");
          }
          change((now) => ({ mine: Object.fromEntries(Object.entries(now.mine).filter(([k, v]) => v !== mine[k])) }));
        },
      },
    );
  const problem = save.error as Problem | null;
  const waits = open && Object.keys(settled).some((k) => settled[k] === kept.mine[k] && !wrong.includes(k));
  const failed = save.isError && problem?.status !== 409;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what has settled is sent once, over the version that stands
  useEffect(() => {
    if (waits && !ending && !save.isPending) send(settled, false);
  }, [settled, stands.version]);
  // Closing waits for an answer on its way, and takes along what has not left yet.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each version that stands
  useEffect(() => {
    if (ending && !save.isPending) send(kept.mine, true);
  }, [ending, stands.version]);
  // A lost line is tried again by itself.
  const lost = failed && problem?.status === undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a clock of its own
  useEffect(() => {
    if (!lost) return;
    const id = setInterval(() => !save.isPending && send(settled, false), 3000);
    return () => clearInterval(id);
  }, [lost, settled]);
  const says = fieldSays(failed ? problem : null);
  return {
    answers,
    wrong,
    joined,
    saving: save.isPending || waits,
    trouble: failed ? problem : null,
    says: (item: string) => says[`answers.${item}`] ?? "",
    shown: (item: string) => shownOf(stands, kept.mine, item),
    answer: (item: string, typed: Typed) =>
      change((now) => ({ mine: { ...now.mine, [item]: { ...now.mine[item], ...typed } } })),
    close: () => setEnding(true),
    closing: ending,
  };
}
