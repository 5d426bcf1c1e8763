import type { TFunction } from "i18next";
import type { LogEntry } from "../api/client";
import type { Mark } from "./state-mark";
import { visitLine } from "./visit-line";

/** One line of the log: what it was, its detail, and where to read on. */
export function entryLine(e: LogEntry, t: TFunction): { mark: Mark; what: string; detail: string; to?: string } {
  switch (e.kind) {
    case "visit":
      if (e.visit) return { ...visitLine(e.visit, t), to: `/visits/${e.id}` };
      break;
    case "run":
      return { mark: "job", what: e.words || t("record.entry.run"), detail: "", to: `/runs/${e.id}` };
    case "part":
      return { mark: "job", what: t(`record.part.${e.what}`), detail: e.words };
    case "photo":
      return {
        mark: "job",
        what: t(e.what === "gone" ? "record.entry.photoGone" : "record.entry.photo"),
        detail: e.words,
      };
    case "pad":
      return { mark: "job", what: t(`record.padReason.${e.what}`), detail: e.words };
    case "inspection":
      return {
        mark: "job",
        what: t("record.entry.inspection"),
        detail: t(e.what === "open" ? "inspection.leftOpen" : "inspection.findings", { count: Number(e.words) }),
        to: `/inspections/${e.id}`,
      };
    case "due":
      return { mark: e.what === "override" ? "act" : "job", what: t(`due.acts.${e.what}`), detail: e.words };
  }
  return { mark: "job", what: t(`record.entry.${e.kind}`), detail: e.words };
}
