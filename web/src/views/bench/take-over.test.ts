import { expect, test } from "vitest";
import type { RunBrief } from "../../api/client";
import { asVisit, type Draft, emptyReading } from "../../parts/visit-draft";
import { takeOver } from "./take-over";

const draft = (more: Partial<Draft> = {}): Draft => ({
  visitId: "v",
  arrivedAt: "2026-11-24T10:00:00Z",
  readings: [emptyReading()],
  signs: {},
  works: [],
  workNote: "",
  after: emptyReading(),
  chemicals: false,
  confirmed: "",
  confirmedHow: "",
  note: "",
  closing: false,
  ...more,
});
const run = (id: string, result: Partial<RunBrief["result"]>, ended: string | null = "2026-11-24T10:30:00Z") =>
  ({ id, ended, result: { primeSeconds: 0, drainSeconds: 0, signs: {}, ...result } }) as unknown as RunBrief;
const cleaned = run("r1", {
  work: "cleaned",
  before: { rpm: 2400, tankPsi: 17 } as RunBrief["result"]["before"],
  after: { rpm: 2400, tankPsi: 10 } as RunBrief["result"]["after"],
  primeSeconds: 41.6,
});

test("a run that is over fills what nobody typed, once", () => {
  const out = takeOver(draft(), [cleaned]) as Draft;
  expect(out.works).toEqual(["cleaned"]);
  expect(out.readings[0].tank).toBe("17");
  expect(out.after.tank).toBe("10");
  expect(out.prime).toBe("42");
  expect(takeOver(out, [cleaned])).toBeUndefined();
});

test("what was typed stays", () => {
  const typed = draft({
    readings: [{ ...emptyReading(), tank: "16,5" }],
    after: { ...emptyReading(), tank: "9" },
    prime: "30",
  });
  const out = takeOver(typed, [cleaned]) as Draft;
  expect(out.readings[0].tank).toBe("16,5");
  expect(out.after.tank).toBe("9");
  expect(out.prime).toBe("30");
});

test("a run that still goes on adds nothing, and its answers are newer than the bench's", () => {
  expect(takeOver(draft(), [run("r2", { work: "basket" }, null)])).toBeUndefined();
  const out = takeOver(draft({ signs: { "basket-full": true } }), [run("r3", { signs: { "basket-full": false } })]);
  expect(out?.signs).toEqual({ "basket-full": false });
});

test("a visit is sent with a reading after only where the filter was cleaned", () => {
  const d = draft({ after: { ...emptyReading(), tank: "9" }, closedAt: "2026-11-24T11:00:00Z" });
  expect(asVisit("s", d).after).toBeUndefined();
  const sent = asVisit("s", {
    ...d,
    works: ["cleaned", "other"],
    workNote: "hose",
    prime: "35",
    drain: "soon",
    chemicals: true,
  });
  expect(sent.after?.tank).toBe("9");
  expect(sent.works).toEqual([
    { kind: "cleaned", note: "" },
    { kind: "other", note: "hose" },
  ]);
  expect([sent.primeSeconds, sent.drainSeconds, sent.chemicalsAt]).toEqual([35, 0, d.closedAt]);
});
