import { useCallback, useState } from "react";
import { v7 as uuid } from "uuid";
import { allKept, forget } from "../../kept/store";
import type { PadDraft } from "./pad-draft";

const kind = "new-pad";
const mine = "fairlap.pad.new";

/** The new pool of this tab: its id lives as long as the tab does, so that two tabs make two pools. */
export function useNewPad() {
  const [id, setId] = useState(() => {
    const known = sessionStorage.getItem(mine);
    if (known) return known;
    const fresh = uuid();
    sessionStorage.setItem(mine, fresh);
    return fresh;
  });
  const take = useCallback((other: string) => {
    sessionStorage.setItem(mine, other);
    setId(other);
  }, []);
  return { id, take };
}

/** The server has it: this tab's next pool is another one. */
export function finish(who: string, id: string): void {
  sessionStorage.removeItem(mine);
  forget(who, kind, id);
}

/** Somebody's drafts on this device that another tab began, with something typed in them. */
export function unfinished(who: string, id: string): { id: string; street: string }[] {
  return allKept()
    .filter((e) => e.who === who && e.kind === kind && e.id !== id)
    .flatMap((e) => {
      const draft = e.value as Partial<PadDraft>;
      const begun = draft.street || draft.gallons || draft.customer || draft.doc || draft.least?.pump;
      return begun ? [{ id: e.id, street: draft.street ?? "" }] : [];
    });
}
