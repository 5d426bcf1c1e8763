import "fake-indexeddb/auto";
import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { lineNow, tellLine } from "../api/line";
import { answersAreOf, keptAnswer, serverFirst } from "./answers";
import { database } from "./database";

const tech = "00000000-0000-7000-8000-000000000001";
const other = "00000000-0000-7000-8000-000000000002";
const lap = ["get", "/api/v1/lap", {}];

const noLine = () => Promise.reject(new TypeError("failed to fetch"));
const slow = (value: unknown, ms: number) => () => new Promise((is) => setTimeout(() => is(value), ms));

/** A page opened anew: nothing of the page before is in hand. */
function page() {
  const client: QueryClient = new QueryClient({
    defaultOptions: { queries: { retry: false, networkMode: "always", persister: serverFirst(() => client) as never } },
  });
  return client;
}

const ask = (client: QueryClient, answer: () => unknown, queryKey: unknown[] = lap) =>
  client.fetchQuery({ queryKey, queryFn: answer as () => Promise<unknown> });

/** What is kept is written behind the answer. */
const written = (queryKey: unknown[] = lap) =>
  vi.waitFor(async () => expect(await keptAnswer(JSON.stringify(queryKey))).toBeDefined());

beforeEach(async () => {
  vi.stubGlobal("fetch", vi.fn(noLine));
  answersAreOf(tech);
  await (await database()).clear("answers");
});
afterEach(() => {
  tellLine(true);
  vi.useRealTimers();
});

describe("the server is asked first", () => {
  it("and what it said is shown without a line, to whom it was said alone", async () => {
    await ask(page(), () => Promise.resolve({ stops: 9 }));
    await written();
    expect(await ask(page(), () => Promise.resolve({ stops: 8 }))).toEqual({ stops: 8 });
    expect(await ask(page(), noLine)).toMatchObject({ stops: expect.any(Number) });
    answersAreOf(other);
    await expect(ask(page(), noLine)).rejects.toThrow("failed to fetch");
  });

  it("and what it refuses is refused, whatever is kept", async () => {
    await ask(page(), () => Promise.resolve({ stops: 9 }));
    await written();
    await expect(ask(page(), () => Promise.reject({ status: 403, detail: "Not yours." }))).rejects.toMatchObject({
      status: 403,
    });
  });

  it("and where it is slow what is kept stands until it answers", async () => {
    await ask(page(), () => Promise.resolve({ stops: 9 }));
    await written();
    const client = page();
    const seen: unknown[] = [];
    const observer = new QueryObserver(client, { queryKey: lap, queryFn: slow({ stops: 7 }, 1900) as never });
    const stop = observer.subscribe(({ data }) => data && seen.push(data));
    await vi.waitFor(() => expect(seen.at(-1)).toEqual({ stops: 7 }), { timeout: 4000 });
    expect(seen[0]).toEqual({ stops: 9 });
    stop();
  }, 6000);

  it("and what is old is asked for again when the line is back", async () => {
    await ask(page(), () => Promise.resolve({ stops: 9 }));
    await written();
    const client = page();
    let answer: () => unknown = noLine;
    const observer = new QueryObserver(client, { queryKey: lap, queryFn: (() => answer()) as never });
    const stop = observer.subscribe(() => undefined);
    await vi.waitFor(() => expect(observer.getCurrentResult().data).toEqual({ stops: 9 }));
    answer = () => Promise.resolve({ stops: 5 });
    tellLine(true);
    await vi.waitFor(() => expect(observer.getCurrentResult().data).toEqual({ stops: 5 }));
    stop();
  });
});

describe("what is kept of answers", () => {
  it("is never that of a question that changes something", async () => {
    const key = ["post", "/api/v1/stops/{id}/diagnosis", {}];
    await ask(page(), () => Promise.resolve({ p: 1 }), key);
    await expect(ask(page(), noLine, key)).rejects.toThrow();
  });

  it("goes, everybody's, as soon as the server says that nobody is here", async () => {
    const me = ["get", "/api/v1/me"];
    await ask(page(), () => Promise.resolve({ stops: 9 }));
    answersAreOf(other);
    await ask(page(), () => Promise.resolve({ stops: 3 }));
    const held = async (n: number) => expect(await (await database()).count("answers")).toBe(n);
    await ask(page(), () => Promise.resolve({ me: { id: other } }), me);
    await vi.waitFor(() => held(3));
    await ask(page(), () => Promise.resolve({ me: null }), me);
    await vi.waitFor(() => held(0));
  });

  it("is as if it had never come after a fortnight, or under another contract", async () => {
    const db = await database();
    const row = { who: tech, ask: JSON.stringify(lap), contract: __CONTRACT__, value: '{"stops":9}' };
    await db.put("answers", { ...row, at: Date.now() - 15 * 86_400_000 });
    expect(await keptAnswer(row.ask)).toBeUndefined();
    await db.put("answers", { ...row, at: Date.now(), contract: "another" });
    expect(await keptAnswer(row.ask)).toBeUndefined();
    await db.put("answers", { ...row, at: Date.now() });
    expect(await keptAnswer(row.ask)).toEqual({ stops: 9 });
  });

  it("tells the server's time as it went on since", async () => {
    const me = JSON.stringify(["get", "/api/v1/me"]);
    const hour = 3_600_000;
    const value = JSON.stringify({ me: { now: "2026-11-24T10:42:00Z" } });
    await (await database()).put("answers", { who: "", ask: me, at: Date.now() - hour, contract: __CONTRACT__, value });
    const { me: kept } = (await keptAnswer(me)) as { me: { now: string } };
    expect(Math.abs(Date.parse(kept.now) - Date.parse("2026-11-24T11:42:00Z"))).toBeLessThan(5000);
  });
});

it("as of when the oldest is that is shown without a line is told", async () => {
  const hour = 3_600_000;
  const row = { who: tech, ask: JSON.stringify(lap), contract: __CONTRACT__, value: '{"stops":9}' };
  await (await database()).put("answers", { ...row, at: Date.now() - 3 * hour });
  await ask(page(), noLine);
  expect(lineNow().there).toBe(false);
  expect(Date.now() - lineNow().last).toBeGreaterThan(2.9 * hour);
  tellLine(true);
  tellLine(false);
  expect(Date.now() - lineNow().last).toBeLessThan(5000);
});

it("a question that its page took back says nothing of the line", async () => {
  await ask(page(), () => Promise.resolve({ stops: 9 }));
  await written();
  const takenBack = () => Promise.reject(Object.assign(new Error("aborted"), { name: "AbortError" }));
  await expect(ask(page(), takenBack)).rejects.toThrow("aborted");
  expect(lineNow().there).toBe(true);
});
