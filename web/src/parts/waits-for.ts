import type { TFunction } from "i18next";
import type { Waits } from "../kept/waiting";

/** What waits, in words. */
export const waitsFor = (t: TFunction, w: Waits): string =>
  w.what ? t(`waiting.change.${w.what}`) : t(`waiting.kind.${w.kind}`, { count: w.count });
