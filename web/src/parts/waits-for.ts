import type { TFunction } from "i18next";
import type { Waits } from "../kept/waiting";

/** What waits, in words. */
export function waitsFor(t: TFunction, w: Waits): string {
  if (w.what) return t(`waiting.change.${w.what}`);
  if (w.begun && w.count === 0) return t(w.kind === "run" ? "waiting.begunRun" : "waiting.begunInspection");
  return t(`waiting.kind.${w.kind}`, { count: w.count });
}
