import type { RunBrief, TypedReading } from "../../api/client";
import type { Draft, WorkKind } from "../../parts/visit-draft";

type Reading = NonNullable<RunBrief["result"]["after"]>;

const typed = (r: Reading): TypedReading => ({
  speed: String(r.rpm),
  tank: r.tankPsi?.toString() ?? "",
  vacuum: r.vacuumInHg?.toString() ?? "",
  flow: r.flowGpm?.toString() ?? "",
  power: r.powerW?.toString() ?? "",
});

/** What runs of this stop that are over add to its draft, each once. Figures typed already stay; of a sign the run's answer is the newer one. */
export function takeOver(draft: Draft, runs: RunBrief[]): Partial<Draft> | undefined {
  const fresh = runs.filter((r) => r.ended && !draft.taken?.includes(r.id));
  if (fresh.length === 0) return undefined;
  let out: Draft = { ...draft, taken: [...(draft.taken ?? []), ...fresh.map((r) => r.id)] };
  for (const { result: r } of fresh) {
    if (r.work && !out.works.includes(r.work as WorkKind)) out = { ...out, works: [...out.works, r.work as WorkKind] };
    if (r.work === "cleaned" && r.after && !Object.values(out.after).some((v) => v?.trim()))
      out = { ...out, after: typed(r.after) };
    const first = out.readings[0];
    if (r.before && first && !first.tank && !first.vacuum && !first.flow && !first.power)
      out = { ...out, readings: [{ ...typed(r.before), setting: first.setting }, ...out.readings.slice(1)] };
    if (r.chemicalsAt) out = { ...out, chemicals: true, chemicalsAt: r.chemicalsAt };
    if (r.primeSeconds > 0) out = { ...out, prime: out.prime || String(Math.round(r.primeSeconds)) };
    if (r.drainSeconds > 0) out = { ...out, drain: out.drain || String(Math.round(r.drainSeconds)) };
    out = { ...out, signs: { ...out.signs, ...r.signs } };
  }
  return out;
}
