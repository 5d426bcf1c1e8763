import { useCallback, useState } from "react";
import { v7 as uuid } from "uuid";
import type { PadDraft } from "./pad-draft";

const prefix = "fairlap.pad.new.";
const mine = "fairlap.pad.new";

/** Where a new pool's draft is kept on this device. */
export const newPadKey = (id: string) => prefix + id;

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
export function finish(id: string): void {
  sessionStorage.removeItem(mine);
  localStorage.removeItem(newPadKey(id));
}

/** Drafts on this device that another tab began, with something typed in them. */
export function unfinished(id: string): { id: string; street: string }[] {
  return Object.keys(localStorage)
    .filter((key) => key.startsWith(prefix) && key !== newPadKey(id))
    .flatMap((key) => {
      try {
        const draft: Partial<PadDraft> = JSON.parse(localStorage.getItem(key) ?? "{}");
        const begun = draft.street || draft.gallons || draft.customer || draft.doc || draft.least?.pump;
        return begun ? [{ id: key.slice(prefix.length), street: draft.street ?? "" }] : [];
      } catch {
        return [];
      }
    });
}
