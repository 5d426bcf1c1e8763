import type { Verdict } from "../api/client";

const marks: Record<string, string> = {
  stop: "stop",
  reread: "act",
  sound: "fine",
  dirt: "fine",
  past: "act",
  suspect: "act",
  unsure: "open",
  fix: "act",
};

/** The state mark of an answer. */
export const markOf = (v: Verdict): string => (v.advice.action === "clean" ? "act" : (marks[v.state] ?? "open"));
