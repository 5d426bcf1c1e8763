import { QueryClient } from "@tanstack/react-query";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { RunEvent, RunView } from "../api/client";
import { type Draft, emptyReading } from "../parts/visit-draft";
import { senders } from "./senders";
import { adopt, allKept, forget, keep, keptOf } from "./store";
import type { KeptChange, KeptInspection, KeptPractice, KeptRun, SentKind } from "./waiting";
import { waitsNow } from "./waiting";

const server = vi.hoisted(() => ({ POST: vi.fn(), PUT: vi.fn(), GET: vi.fn(), use: vi.fn() }));
vi.mock("../api/client", async (real) => ({ ...(await real<object>()), http: server }));

const me = "00000000-0000-7000-8000-000000000001";
const changed = vi.fn();
const queries = new QueryClient();
const send = (kind: SentKind, id: string) =>
  senders[kind]({ kind, who: me, id, street: "", count: 1 }, { queries, changed });
/** The server's own answer: it gives the id of the send back. */
const proof = (status: number, init?: { headers?: Record<string, string> }) =>
  new Response(null, { status, headers: { "Served-By": "fairlap", "Sent-Id": init?.headers?.["Sent-Id"] ?? "" } });
type Asked = [unknown, { headers?: Record<string, string> }?];
const ok =
  (data: unknown) =>
  async (...[, init]: Asked) => ({ data, response: proof(200, init) });
const refusal =
  (status: number, detail: string, errors: object[] = []) =>
  async (...[, init]: Asked) => ({ error: { status, detail, errors }, response: proof(status, init) });

beforeEach(() => {
  vi.resetAllMocks();
  queries.clear();
  for (const e of allKept()) forget(e.who, e.kind, e.id);
});

describe("a logged visit", () => {
  const draft: Draft = {
    visitId: "v1",
    arrivedAt: "2026-11-24T10:00:00Z",
    closedAt: "2026-11-24T10:40:00Z",
    readings: [{ ...emptyReading(), speed: "2400" }],
    signs: {},
    works: [],
    workNote: "",
    after: emptyReading(),
    chemicals: false,
    confirmed: "",
    confirmedHow: "",
    note: "gate left open",
    closing: false,
    street: "14 Quince Court",
  };

  it("waits for its maker alone, and is gone once it is on record", async () => {
    keep(me, "visit", "s1", draft);
    expect(waitsNow()).toMatchObject([{ kind: "visit", who: me, id: "s1", street: "14 Quince Court", count: 1 }]);
    server.POST.mockImplementation(ok({ id: "v1" }));
    expect(await send("visit", "s1")).toBe("sent");
    expect(server.POST.mock.calls[0][1]).toMatchObject({
      headers: { "Made-By": me },
      body: { id: "v1", stopId: "s1" },
    });
    expect(waitsNow()).toEqual([]);
    expect(keptOf(me, "saved", "s1")).toMatchObject({ visit: "v1", draft: { note: "gate left open" } });
    expect(changed).toHaveBeenCalledWith("pool");
  });

  it.each([
    ["a server in trouble", refusal(503, "away"), "busy"],
    ["a session that ended", refusal(401, "Sign in first."), "session"],
    ["somebody else's answer", async () => ({ data: { id: "v1" }, response: new Response("{}") }), "between"],
  ])("stays as it is through %s", async (_, answer, why) => {
    keep(me, "visit", "s1", draft);
    server.POST.mockImplementation(answer);
    expect(await send("visit", "s1")).toBe(why);
    expect(keptOf(me, "visit", "s1")).toEqual(draft);
  });

  it("that was refused keeps its sentence at its field, and is not sent again", async () => {
    keep(me, "visit", "s1", draft);
    server.POST.mockImplementation(
      refusal(422, "Some of what was typed.", [
        { location: "body.findings.readings[0].speed", message: "2400 rpm is not believable." },
      ]),
    );
    expect(await send("visit", "s1")).toBe("nothing");
    expect(keptOf<Draft>(me, "visit", "s1")?.refused).toEqual({
      detail: "2400 rpm is not believable.",
      fields: { "readings[0].speed": "2400 rpm is not believable." },
    });
    expect(await send("visit", "s1")).toBe("nothing");
    expect(server.POST).toHaveBeenCalledTimes(1);
  });

  it("that another tab opened again meanwhile is left to it", async () => {
    keep(me, "visit", "s1", draft);
    server.POST.mockImplementation(async (...asked: Asked) => {
      keep(me, "visit", "s1", { ...draft, closedAt: undefined, note: "more" });
      return ok({ id: "v1" })(...asked);
    });
    expect(await send("visit", "s1")).toBe("nothing");
    expect(keptOf<Draft>(me, "visit", "s1")?.note).toBe("more");
  });
});

describe("a run", () => {
  const event = (id: string): RunEvent => ({ id, act: "go", turn: 0, at: "2026-11-24T10:00:00Z" }) as RunEvent;
  const run = (part: object) => ({ id: "r1", turn: 1, street: "8 Heron Reach", ...part }) as RunView;

  it("is kept no longer once it has ended and is on record", async () => {
    keep(me, "run", "r1", { queue: [event("a")], last: run({}) } satisfies KeptRun);
    server.POST.mockImplementation(ok(run({ turn: 2, ended: "2026-11-24T10:20:00Z" })));
    expect(await send("run", "r1")).toBe("sent");
    expect(keptOf(me, "run", "r1")).toBeUndefined();
  });

  it("is asked again where its answer lost its body on the way", async () => {
    const ask = { pool: "p1", at: "2026-11-24T10:00:00Z", ask: { id: "r1", procedure: "backwash" } };
    const begun = { queue: [event("a")], last: run({}), begun: ask } as unknown as KeptRun;
    keep(me, "run", "r1", begun);
    server.POST.mockImplementation(ok(undefined));
    expect(await send("run", "r1")).toBe("between");
    expect(keptOf(me, "run", "r1")).toEqual(begun);
    keep(me, "run", "r1", { ...begun, begun: undefined });
    expect(await send("run", "r1")).toBe("between");
    expect(keptOf<KeptRun>(me, "run", "r1")).toMatchObject({ queue: [event("a")] });
    expect(keptOf<KeptRun>(me, "run", "r1")?.refused).toBeUndefined();
  });

  it("keeps the steps before one that was refused, and what was done while it was sent", async () => {
    keep(me, "run", "r1", { queue: [event("a"), event("b"), event("c")], last: run({}) } satisfies KeptRun);
    server.POST.mockImplementation(async (...asked: Asked) => {
      const kept = keptOf<KeptRun>(me, "run", "r1") as KeptRun;
      keep(me, "run", "r1", { ...kept, queue: [...kept.queue, event("d")] });
      const wrong = { location: "body.events[1].reading.tank", message: "What is “twenty”?" };
      return refusal(422, "Look again.", [wrong])(...asked);
    });
    expect(await send("run", "r1")).toBe("soon");
    const kept = keptOf<KeptRun>(me, "run", "r1");
    expect(kept?.queue.map((e) => e.id)).toEqual(["a", "d"]);
    expect(kept?.says).toEqual({ "events[1].reading.tank": "What is “twenty”?" });
  });

  it("that was refused as a whole says why, and loses nothing", async () => {
    keep(me, "run", "r1", { queue: [event("a")], last: run({}) } satisfies KeptRun);
    server.POST.mockImplementation(refusal(403, "This is not yours to see or change."));
    expect(await send("run", "r1")).toBe("nothing");
    expect(waitsNow()).toMatchObject([{ kind: "run", count: 1, refused: "This is not yours to see or change." }]);
    expect(await send("run", "r1")).toBe("nothing");
    expect(server.POST).toHaveBeenCalledTimes(1);
  });

  const begun = { pool: "p1", ask: { id: "r1", procedure: "backwash" }, at: "2026-11-24T09:58:00Z" };

  it("that was begun here is told first, as of when, and its steps after it", async () => {
    keep(me, "run", "r1", { queue: [event("a")], last: run({ turn: 0 }), begun } satisfies KeptRun);
    server.POST.mockImplementationOnce(ok(run({ turn: 0 }))).mockImplementationOnce(ok(run({ turn: 1 })));
    expect(await send("run", "r1")).toBe("sent");
    const [[path, start], [, steps]] = server.POST.mock.calls;
    expect(path).toBe("/api/v1/pools/{id}/runs");
    expect(start).toMatchObject({ body: { id: "r1", begun: true }, headers: { "Made-By": me, "Made-At": begun.at } });
    expect(steps.body.events).toHaveLength(1);
    expect(keptOf<KeptRun>(me, "run", "r1")).toMatchObject({ queue: [], begun: undefined });
  });

  it("that can't be begun keeps all of it, with the sentence", async () => {
    keep(me, "run", "r1", { queue: [event("a")], last: run({ turn: 0 }), begun } satisfies KeptRun);
    server.POST.mockImplementation(
      refusal(422, "Some of it.", [{ location: "body.procedure", message: "This pad has no such work." }]),
    );
    expect(await send("run", "r1")).toBe("nothing");
    expect(keptOf(me, "run", "r1")).toMatchObject({
      begun,
      queue: [{ id: "a" }],
      refused: { detail: "This pad has no such work." },
    });
  });

  it("that another device moved on is shown as it stands there", async () => {
    keep(me, "run", "r1", { queue: [event("a")], last: run({}) } satisfies KeptRun);
    server.POST.mockImplementation(refusal(409, "Step 4 was done elsewhere.", [{ value: run({ turn: 5 }) }]));
    expect(await send("run", "r1")).toBe("soon");
    expect(keptOf(me, "run", "r1")).toMatchObject({
      queue: [],
      moved: "Step 4 was done elsewhere.",
      last: { turn: 5 },
    });
  });
});

describe("an inspection", () => {
  const stands = { id: "i1", version: 3, answers: {}, closedAt: null };
  beforeEach(() => server.GET.mockResolvedValue({ data: stands }));
  const kept = (mine: KeptInspection["mine"], more: Partial<KeptInspection> = {}) =>
    keep(me, "inspection", "i1", { mine, ...more } satisfies KeptInspection);

  it("waits until an answer has settled", async () => {
    kept({ drain: { yes: true, at: Date.now() } });
    expect(await send("inspection", "i1")).toBe("soon");
    expect(server.PUT).not.toHaveBeenCalled();
  });

  it("sends what can be read, and keeps what can't", async () => {
    kept({ drain: { yes: true, at: 1 }, depth: { value: "deep", at: 1 } });
    server.PUT.mockImplementation(ok({ ...stands, version: 4 }));
    expect(await send("inspection", "i1")).toBe("sent");
    expect(server.PUT.mock.calls[0][1].body).toMatchObject({
      version: 3,
      close: false,
      answers: { drain: { yes: true } },
    });
    expect(Object.keys(keptOf<KeptInspection>(me, "inspection", "i1")?.mine ?? {})).toEqual(["depth"]);
  });

  it("over what somebody else answered looks again", async () => {
    kept({ drain: { yes: true, at: 1 } });
    server.PUT.mockImplementation(refusal(409, "Changed meanwhile."));
    expect(await send("inspection", "i1")).toBe("soon");
    expect(keptOf(me, "inspection", "i1")).toMatchObject({ joined: true, mine: { drain: { yes: true } } });
  });

  it("that was begun here is told before its answers", async () => {
    const begun = { pool: "p1", at: "2026-11-24T09:58:00Z" };
    kept({ drain: { yes: true, at: 1 } }, { begun });
    server.POST.mockImplementation(ok(stands));
    expect(await send("inspection", "i1")).toBe("sent");
    expect(server.POST.mock.calls[0][1]).toMatchObject({
      params: { path: { id: "p1" } },
      body: { id: "i1", begun: true },
      headers: { "Made-At": begun.at },
    });
    expect(server.PUT).not.toHaveBeenCalled();
    expect(keptOf(me, "inspection", "i1")).toEqual({ mine: { drain: { yes: true, at: 1 } } });
  });

  it("that is closed takes all along and is kept no longer", async () => {
    kept({ drain: { yes: true, at: Date.now() } }, { closing: "2026-11-24T11:00:00Z" });
    server.PUT.mockImplementation(ok({ ...stands, version: 4, closedAt: "2026-11-24T11:00:00Z" }));
    expect(await send("inspection", "i1")).toBe("sent");
    expect(server.PUT.mock.calls[0][1].body.close).toBe(true);
    expect(keptOf(me, "inspection", "i1")).toBeUndefined();
  });
});

describe("a change", () => {
  const note: KeptChange = {
    what: "note",
    pool: "p1",
    street: "8 Heron Reach",
    body: { id: "n1", text: "gate code changed" },
    at: "2026-11-24T10:00:00Z",
  };

  it("is sent with its time, and kept no longer", async () => {
    keep(me, "change", "n1", note);
    expect(waitsNow()).toMatchObject([{ kind: "change", what: "note", pool: "p1", street: "8 Heron Reach" }]);
    server.POST.mockImplementation(ok(undefined));
    expect(await send("change", "n1")).toBe("sent");
    expect(server.POST.mock.calls[0]).toMatchObject([
      "/api/v1/pools/{id}/notes",
      { body: note.body, headers: { "Made-By": me, "Made-At": note.at } },
    ]);
    expect(waitsNow()).toEqual([]);
    expect(changed).toHaveBeenCalledWith("beside");
  });

  it("that was refused stays with its sentence until it is mended", async () => {
    keep(me, "change", "n1", note);
    server.POST.mockImplementation(
      refusal(422, "Some of it.", [{ location: "body.text", message: "Write the note first." }]),
    );
    expect(await send("change", "n1")).toBe("nothing");
    expect(keptOf<KeptChange>(me, "change", "n1")?.refused?.fields).toEqual({ text: "Write the note first." });
    expect(await send("change", "n1")).toBe("nothing");
    expect(server.POST).toHaveBeenCalledTimes(1);
  });

  it.each([
    ["busy", refusal(503, "away")],
    ["session", refusal(401, "Sign in first.")],
    ["busy", refusal(429, "Too many.")],
  ])("waits through what passes: %s", async (why, answer) => {
    keep(me, "change", "n1", note);
    server.POST.mockImplementation(answer);
    expect(await send("change", "n1")).toBe(why);
    expect(keptOf(me, "change", "n1")).toEqual(note);
  });
});

describe("what is kept", () => {
  it("of nobody yet becomes that of whoever is here first, and never takes the place of their own", () => {
    keep("", "note", "p1", { text: "old" });
    keep("", "note", "p2", { text: "old" });
    keep(me, "note", "p2", { text: "mine" });
    adopt(me);
    expect(keptOf(me, "note", "p1")).toEqual({ text: "old" });
    expect(keptOf(me, "note", "p2")).toEqual({ text: "mine" });
    expect(allKept().filter((e) => e.who === "")).toEqual([]);
  });
});

describe("a practice case", () => {
  const practised: KeptPractice = {
    ask: { id: "gulping-by-the-steps", mode: "alone", events: [{ act: "read" }] },
    title: "Gulping by the steps",
    at: "2026-11-24T10:00:00Z",
    over: false,
  };

  it("stays here while it goes on", async () => {
    keep(me, "practice", "p1", practised);
    expect(waitsNow()).toEqual([]);
    expect(await send("practice", "p1")).toBe("nothing");
    expect(server.PUT).not.toHaveBeenCalled();
    expect(keptOf(me, "practice", "p1")).toEqual(practised);
  });

  it("is sent when its case is over, for whom the desk asked, and read from the record from then on", async () => {
    const over = { ...practised, over: true, task: "t1" };
    keep(me, "practice", "p1", over);
    expect(waitsNow()).toMatchObject([{ kind: "practice", id: "p1", street: "Gulping by the steps", count: 1 }]);
    server.PUT.mockImplementation(ok({ id: "p1" }));
    server.GET.mockImplementation(ok({ attempts: [] }));
    expect(await send("practice", "p1")).toBe("sent");
    expect(server.PUT.mock.calls[0][1]).toMatchObject({
      params: { path: { id: "p1" } },
      body: { ask: over.ask, task: "t1" },
      headers: { "Made-By": me },
    });
    expect(keptOf(me, "practice", "p1")).toBeUndefined();
    expect(changed).toHaveBeenCalledWith("practice");
  });

  it.each([
    ["a server in trouble", refusal(503, "away"), "busy"],
    ["a refusal", refusal(409, "This id already stands for something else."), "nothing"],
  ])("is not lost through %s", async (_, answer, outcome) => {
    keep(me, "practice", "p1", { ...practised, over: true });
    server.PUT.mockImplementation(answer);
    expect(await send("practice", "p1")).toBe(outcome);
    expect(keptOf<KeptPractice>(me, "practice", "p1")?.ask).toEqual(practised.ask);
  });
});
