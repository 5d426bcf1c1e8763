import { beforeEach, describe, expect, it, vi } from "vitest";
import type { RunEvent, RunView } from "../api/client";
import type { Draft } from "../parts/visit-draft";
import { askReceipts } from "./receipts";
import { keepSent, sentBy } from "./sent";
import { allKept, forget, keep, keptOf } from "./store";
import type { KeptChange, KeptInspection, KeptPhoto, KeptRun } from "./waiting";

const server = vi.hoisted(() => ({ POST: vi.fn(), use: vi.fn() }));
vi.mock("../api/client", async (real) => ({ ...(await real<object>()), http: server }));

const me = "00000000-0000-7000-8000-000000000001";
const has = (ids: string[], inspections: object[] = []) => {
  const response = new Response(null, { headers: { "Served-By": "fairlap" } });
  server.POST.mockResolvedValue({ data: { has: ids, inspections }, response });
};
const event = (id: string): RunEvent => ({ id, act: "go", step: "s", turn: 1, at: "2026-11-24T10:00:00Z" });
const run = (begun: boolean, ...ids: string[]): KeptRun => ({
  queue: ids.map(event),
  last: { id: "r1" } as RunView,
  begun: begun
    ? { pool: "p1", ask: { id: "r1", procedure: "baskets" } as never, at: "2026-11-24T10:00:00Z" }
    : undefined,
});
const draft = { visitId: "v1", closedAt: "2026-11-24T10:40:00Z", note: "gate left open" } as Draft;
const note: KeptChange = { what: "note", pool: "p1", street: "", body: { id: "n1" }, at: "" };

beforeEach(() => {
  vi.resetAllMocks();
  for (const e of allKept()) forget(e.who, e.kind, e.id);
});

describe("what was sent", () => {
  it("is asked for by its ids, and left where it is on record", async () => {
    keepSent(me, "visit", "s1", draft);
    keepSent(me, "run", "r1", run(true, "e1"));
    keepSent(me, "run", "r1", run(false, "e2"));
    keepSent(me, "change", "n1", note);
    has(["v1", "r1", "e1", "e2", "n1"]);
    expect(await askReceipts(me)).toBe(0);
    expect(server.POST.mock.calls[0][1].body.ids.sort()).toEqual(["e1", "e2", "n1", "r1", "v1"]);
    expect(keptOf(me, "visit", "s1")).toBeUndefined();
  });

  it("is sent again where a restored server has lost it", async () => {
    const photo = { pool: "p1", ask: {}, picture: new Blob(["x"]) } as KeptPhoto;
    keepSent(me, "visit", "s1", draft);
    keepSent(me, "photo", "f1", photo);
    keepSent(me, "change", "n1", note);
    keepSent(me, "run", "r1", run(true, "e1", "e2"));
    has(["n1"]);
    expect(await askReceipts(me)).toBe(3);
    expect(keptOf(me, "visit", "s1")).toEqual(draft);
    expect(keptOf(me, "photo", "f1")).toEqual(photo);
    expect(keptOf(me, "change", "n1")).toBeUndefined();
    expect(keptOf<KeptRun>(me, "run", "r1")).toMatchObject({
      begun: { pool: "p1" },
      queue: [{ id: "e1" }, { id: "e2" }],
    });
  });

  it("of a run is sent from the first step that is lost, before those that wait", async () => {
    keepSent(me, "run", "r1", run(true, "e1", "e2"));
    keep(me, "run", "r1", run(false, "e3"));
    has(["r1", "e1"]);
    await askReceipts(me);
    const back = keptOf<KeptRun>(me, "run", "r1");
    expect(back?.queue.map((e) => e.id)).toEqual(["e2", "e3"]);
    expect(back?.begun).toBeUndefined();
  });

  it("stays back while something newer stands in its place", async () => {
    keepSent(me, "visit", "s1", draft);
    const newer = { ...draft, visitId: "v2", corrects: "v1", closedAt: undefined };
    keep(me, "visit", "s1", newer);
    has([]);
    expect(await askReceipts(me)).toBe(0);
    expect(keptOf(me, "visit", "s1")).toEqual(newer);
  });

  it.each([
    ["not begun there", [], true],
    ["none of its answers there", [{ id: "i1", items: [], closed: false }], true],
    ["open there", [{ id: "i1", items: ["pot"], closed: false }], true],
    ["closed there", [{ id: "i1", items: ["pot"], closed: true }], false],
  ])("of an inspection: %s", async (_, inspections, back) => {
    const mine: KeptInspection = { mine: { pot: {} as never }, closing: "2026-11-24T10:00:00Z" };
    keepSent(me, "inspection", "i1", mine);
    has([], inspections);
    expect(await askReceipts(me)).toBe(back ? 1 : 0);
  });

  it("does not go round for ever", async () => {
    keepSent(me, "change", "n1", note);
    has([]);
    for (let i = 0; i < 5; i += 1) {
      await askReceipts(me);
      forget(me, "change", "n1");
    }
    expect(sentBy(me)[0].again).toBe(3);
  });

  it("is not sent again over somebody else's answer, nor without one", async () => {
    keepSent(me, "visit", "s1", draft);
    server.POST.mockResolvedValue({ data: { has: [], inspections: [] }, response: new Response("{}") });
    expect(await askReceipts(me)).toBe(0);
    server.POST.mockResolvedValue({ error: { status: 503 }, response: new Response(null, { status: 503 }) });
    expect(await askReceipts(me)).toBe(0);
    expect(keptOf(me, "visit", "s1")).toBeUndefined();
  });
});
