import type { Inspection } from "../../api/client";
import { useKept } from "../../kept/use-kept";
import { useFailing } from "../../kept/use-sender";
import type { KeptInspection } from "../../kept/waiting";
import { answersOf, shownOf, type Typed } from "../../parts/inspection-answers";

const nothing = (): KeptInspection => ({ mine: {} });

/** An inspection that keeps itself: every answer goes on record once it has settled, and
 *  stays on this device until it is there. */
export function useInspection(stands: Inspection) {
  const { value: kept, change } = useKept<KeptInspection>("inspection", stands.id, nothing);
  const failing = useFailing();
  const { answers, wrong } = answersOf(stands, kept.mine);
  const waits = Object.keys(kept.mine).some((item) => !wrong.includes(item));
  return {
    answers,
    wrong,
    joined: Boolean(kept.joined),
    saving: waits,
    /** Why it is not on record: a refusal's sentence, or no line (empty). */
    trouble: kept.refused ? kept.refused.detail : failing && waits ? "" : null,
    says: (item: string) => kept.refused?.fields[`answers.${item}`] ?? "",
    shown: (item: string) => shownOf(stands, kept.mine, item),
    answer: (item: string, typed: Typed) =>
      change((now) => ({
        mine: { ...now.mine, [item]: { ...now.mine[item], ...typed, at: Date.now() } },
        street: stands.street,
        refused: undefined,
      })),
    close: () => change({ closing: true, street: stands.street, refused: undefined }),
    closing: Boolean(kept.closing),
  };
}
