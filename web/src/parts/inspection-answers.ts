import type { Inspection } from "../api/client";
import { readFigure } from "./read-figure";

/** What was answered here and is not yet on record; a figure as it was typed, and when. */
export interface Typed {
  value?: string;
  yes?: boolean | null;
  note?: string;
  at?: number;
}

type Mine = Record<string, Typed>;

/** What an item shows: the record, and over it what was typed here. */
export function shownOf(stands: Inspection, mine: Mine, item: string): Typed {
  const a = stands.answers[item];
  const own = mine[item] ?? {};
  return {
    value: own.value ?? (a?.value == null ? "" : String(a.value)),
    yes: own.yes === undefined ? (a?.yes ?? null) : own.yes,
    note: own.note ?? a?.note ?? "",
  };
}

/** Answers as they would be kept, and the items whose figure is none yet. */
export function answersOf(stands: Inspection, mine: Mine) {
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
