import { beforeEach, describe, expect, it } from "vitest";
import { allKept, forget, keep } from "./store";
import { refusalOf, waitsNow } from "./waiting";

const me = "00000000-0000-7000-8000-000000000001";
const other = "00000000-0000-7000-8000-000000000002";

beforeEach(() => {
  for (const e of allKept()) forget(e.who, e.kind, e.id);
});

describe("what waits on a device", () => {
  it("is what its maker logged, did, answered or took, and nothing that is only typed", () => {
    keep(me, "visit", "s1", { note: "typed", street: "14 Quince Court" });
    keep(me, "note", "p1", { text: "typed" });
    keep(me, "run", "r0", { queue: [], last: null });
    keep(me, "inspection", "i0", { mine: {} });
    expect(waitsNow()).toEqual([]);
    keep(me, "visit", "s2", { closedAt: "2026-11-24T10:40:00Z", street: "8 Heron Reach" });
    keep(me, "run", "r1", { queue: [{}, {}], last: { street: "3 Larkspur Lane" } });
    keep(me, "inspection", "i1", { mine: {}, closing: true });
    keep(other, "photo", "f1", { pool: "p1", ask: {}, picture: new Blob() });
    expect(waitsNow().map(({ kind, who, count, street }) => [kind, who === me, count, street])).toEqual([
      ["inspection", true, 1, ""],
      ["run", true, 2, "3 Larkspur Lane"],
      ["visit", true, 1, "8 Heron Reach"],
      ["photo", false, 1, ""],
    ]);
  });

  it("is the same list as long as nothing in it is another", () => {
    keep(me, "photo", "f1", { pool: "p1", ask: {}, picture: new Blob() });
    const was = waitsNow();
    keep(me, "note", "p1", { text: "typed meanwhile" });
    expect(waitsNow()).toBe(was);
    keep(me, "photo", "f1", {
      pool: "p1",
      ask: {},
      picture: new Blob(),
      refused: { detail: "No picture.", fields: {} },
    });
    expect(waitsNow()[0].refused).toBe("No picture.");
  });

  it("is refused in the sentence at its field, else in the general one", () => {
    const problem = { type: "about:blank", status: 422, detail: "Some of what was typed." };
    expect(refusalOf(problem, { note: "Too long." }).detail).toBe("Too long.");
    expect(refusalOf(problem, {}).detail).toBe("Some of what was typed.");
  });
});
