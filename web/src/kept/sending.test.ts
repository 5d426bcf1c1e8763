import { QueryClient } from "@tanstack/react-query";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { lineNow, tellLine } from "../api/line";
import { ticks } from "../parts/clock";
import { emptyReading } from "../parts/visit-draft";
import { nextTry, sendAll } from "./sending";
import { allKept, forget, keep, keptOf } from "./store";
import { settled, triesOf, tryAll } from "./tries";
import { type SentKind, waitsNow } from "./waiting";

const me = "00000000-0000-7000-8000-000000000001";
const queries = new QueryClient();
const hands = { queries, changed: vi.fn() };

/** The net, before the client takes hold of it: what answers in the server's place, and what it was asked. */
const net = vi.hoisted(() => {
  const Real = globalThis.Request;
  globalThis.Request = class extends Real {
    constructor(input: RequestInfo | URL, init?: RequestInit) {
      super(typeof input === "string" ? new URL(input, "http://here") : input, init);
    }
  };
  const net = {
    asked: [] as Request[],
    answer: async (_: Request): Promise<Response> => {
      throw new TypeError("failed to fetch");
    },
  };
  globalThis.fetch = async (input, init) => {
    const request = new Request(input, init);
    net.asked.push(request);
    return net.answer(request);
  };
  return net;
});
const { asked } = net;
type Answers = typeof net.answer;

const made = { arrivedAt: "2026-11-24T10:00:00Z", closedAt: "2026-11-24T10:40:00Z", at: "2026-11-24T10:00:00Z" };
const change = (what: string, body: object) => ({ what, pool: "p1", street: "8 Heron Reach", body, at: made.at });
const run = { id: "r1", turn: 0, poolId: "p1", stopId: "s9", street: "8 Heron Reach" };

/** One of each that is sent. */
const kinds: Record<string, { kind: SentKind; value: object }> = {
  visit: {
    kind: "visit",
    value: {
      ...made,
      visitId: "v1",
      readings: [],
      signs: {},
      works: [],
      workNote: "",
      after: emptyReading(),
      note: "",
    },
  },
  "job step": { kind: "run", value: { queue: [{ id: "e1", act: "go", turn: 0, at: made.at }], last: run } },
  "job begun here": {
    kind: "run",
    value: { queue: [], last: run, begun: { pool: "p1", ask: { id: "x", procedure: "backwash" }, at: made.at } },
  },
  "inspection begun here": { kind: "inspection", value: { mine: {}, begun: { pool: "p1", at: made.at } } },
  note: { kind: "change", value: change("note", { id: "x", text: "gate code" }) },
  part: { kind: "change", value: change("part", { id: "x" }) },
  mark: { kind: "change", value: change("mark", { id: "x" }) },
  move: { kind: "change", value: change("move", { id: "x" }) },
  picture: { kind: "photo", value: { pool: "p1", ask: { caption: "" }, picture: new Blob(["x"]), at: made.at } },
  practice: { kind: "practice", value: { ask: { id: "c", events: [] }, title: "", at: made.at, over: true } },
};

const html = (status: number) => async () =>
  new Response("<html><title>Guest network</title></html>", { status, headers: { "Content-Type": "text/html" } });
const json = (status: number, body: object, headers: Record<string, string> = {}) =>
  new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json", ...headers } });
const proof = (r: Request) => ({ "Served-By": "fairlap", "Sent-Id": r.headers.get("Sent-Id") ?? "" });

/** Answers that are not the server's, or that pass by themselves. */
const passing: Record<string, Answers> = {
  "a guest network's page": html(200),
  "an empty 200": async () => new Response("", { status: 200 }),
  "somebody else's JSON": async () => json(200, { id: "x", ended: made.at }),
  "a proxy's 413": html(413),
  "a gateway's 502": html(502),
  "a firewall's 403": html(403),
  "a bare 429": async () => new Response("", { status: 429 }),
  "an answer of another send": async () => json(200, {}, { "Served-By": "fairlap", "Sent-Id": "another" }),
  "no line": async () => {
    throw new TypeError("failed to fetch");
  },
  "a line that breaks after the send": async () => {
    throw new TypeError("network error");
  },
  "the server's 503": async (r) => json(503, { status: 503, detail: "away" }, proof(r)),
  "the server's 429": async (r) => json(429, { status: 429, detail: "wait" }, proof(r)),
};

beforeEach(() => {
  for (const w of waitsNow()) settled(w);
  for (const e of allKept()) forget(e.who, e.kind, e.id);
  queries.clear();
  asked.length = 0;
});

describe.each(Object.entries(kinds))("%s", (_, { kind, value }) => {
  it.each(Object.entries(passing))("stays through %s, and is on record once the server has it", async (_, foreign) => {
    keep(me, kind, "x", value);
    net.answer = foreign;
    const round = await sendAll(me, hands);
    expect(round.stays).toBeDefined();
    expect(keptOf(me, kind, "x")).toEqual(value);
    expect(waitsNow().some((w) => w.refused)).toBe(false);
    tryAll();
    net.answer = async (r) => json(200, { ...run, id: "x", ended: made.at, attempts: [] }, proof(r));
    expect((await sendAll(me, hands)).stays).toBeUndefined();
    expect(waitsNow().filter((w) => w.kind === kind)).toEqual([]);
  });

  it("is refused by the server alone, with its sentence, and asked no more", async () => {
    for (const status of [403, 409, 410, 422, 404]) {
      keep(me, kind, "x", value);
      net.answer = async (r) => json(status, { status, detail: `No: ${status}.`, errors: [] }, proof(r));
      if (kind === "inspection" && status === 409) continue; // what another device answered is looked at
      await sendAll(me, hands);
      expect(waitsNow()).toMatchObject([{ refused: `No: ${status}.` }]);
      asked.length = 0;
      await sendAll(me, hands);
      expect(asked).toEqual([]);
      forget(me, kind, "x");
    }
  });
});

describe("what waits", () => {
  const of = (id: string) => waitsNow().find((w) => w.id === id);

  it("waits only for what it needs: one in trouble lets the rest go on", async () => {
    keep(me, "photo", "f1", kinds.picture.value);
    keep(me, "visit", "s1", kinds.visit.value);
    keep(me, "change", "n1", change("note", { id: "n1", text: "x" }));
    net.answer = async (r) =>
      r.url.includes("photos") ? json(500, { status: 500 }, proof(r)) : json(200, { id: "x" }, proof(r));
    const round = await sendAll(me, hands);
    expect(round).toMatchObject({ stays: "busy", sent: true });
    expect(waitsNow().map((w) => w.id)).toEqual(["f1"]);
    expect(triesOf(of("f1") as never)).toMatchObject({ count: 1, why: "busy" });
    asked.length = 0;
    await sendAll(me, hands);
    expect(asked).toEqual([]); // not yet
  });

  it("a visit waits for the jobs of its own stop, and for no other's", async () => {
    keep(me, "run", "r1", { ...kinds["job step"].value, last: { ...run, stopId: "s1" } });
    keep(me, "visit", "s1", kinds.visit.value);
    keep(me, "visit", "s2", kinds.visit.value);
    net.answer = async (r) =>
      r.url.includes("/runs/") ? json(500, { status: 500 }, proof(r)) : json(200, { id: "x" }, proof(r));
    await sendAll(me, hands);
    expect(waitsNow().map((w) => w.id)).toEqual(["r1", "s1"]);
    tryAll();
    net.answer = async (r) => json(200, { ...run, stopId: "s1", ended: made.at, id: "x" }, proof(r));
    await sendAll(me, hands);
    expect(waitsNow()).toEqual([]);
  });

  it("has no time of its own while it waits for another", async () => {
    keep(me, "visit", "s1", kinds.visit.value);
    net.answer = async (r) => json(500, { status: 500 }, proof(r));
    await sendAll(me, hands);
    keep(me, "run", "r1", { ...kinds["job step"].value, last: { ...run, stopId: "s1" } });
    tryAll();
    await sendAll(me, hands);
    expect(triesOf(of("s1") as never)?.next).toBe(0); // due, were it not for the job
    expect(nextTry(me)).toBeGreaterThan(0);
  });

  it("is not tried one by one where there is no line", async () => {
    for (const id of ["n1", "n2", "n3"]) keep(me, "change", id, change("note", { id, text: "x" }));
    net.answer = passing["no line"];
    await sendAll(me, hands);
    expect(asked).toHaveLength(1);
  });

  it("is tried at longer and longer times", async () => {
    keep(me, "change", "n1", change("note", { id: "n1", text: "x" }));
    net.answer = passing["a gateway's 502"];
    const waited: number[] = [];
    for (let i = 0; i < 8; i++) {
      tryAll();
      const before = ticks();
      await sendAll(me, hands);
      const t = triesOf(of("n1") as never);
      waited.push(Math.round(((t?.next ?? 0) - before) / 1000));
      expect(t?.count).toBe(i + 1);
    }
    expect(waited).toEqual([1, 2, 4, 8, 16, 30, 30, 30]);
  });
});

describe("the line", () => {
  it("is not there where something else answers", async () => {
    tellLine(true);
    keep(me, "change", "n1", change("note", { id: "n1", text: "x" }));
    net.answer = html(200);
    await sendAll(me, hands);
    expect(lineNow().there).toBe(false);
  });
});
