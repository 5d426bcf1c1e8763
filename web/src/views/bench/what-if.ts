import { useState } from "react";
import type { Findings, Verdict } from "../../api/client";
import { chance } from "../../parts/format";

type Evidence = Verdict["suspects"][number]["for"][number];

/** Findings tried without keeping them: the draft stays as it was found. */
export function useWhatIf(found: Findings) {
  const [tried, setTried] = useState<Findings | null>(null);
  const [before, setBefore] = useState("");
  return {
    tried,
    before,
    start: (verdict: Verdict, part: Partial<Findings>) => {
      const s = verdict.suspects[0];
      if (!tried && s) setBefore(`${s.name} ${chance(s.p)} %`);
      setTried({ ...found, ...tried, ...part });
    },
    change: (part: Partial<Findings>) => setTried({ ...found, ...tried, ...part }),
    stop: () => setTried(null),
  };
}

/** The findings with one sign the other way, or one meter not read. */
export function otherwise(e: Evidence, readings: Findings["readings"], signs: Findings["signs"]): Partial<Findings> {
  if (e.sign) return { signs: { ...signs, [e.sign]: !signs[e.sign] } };
  // Rows left empty are no readings: the evidence counts those that were read.
  const read = readings.filter((r) => [r.tank, r.vacuum, r.flow, r.power].some((v) => v.trim()));
  const row = read[e.reading];
  return { readings: readings.map((r) => (r === row ? { ...r, [e.meter ?? ""]: "" } : r)) };
}
