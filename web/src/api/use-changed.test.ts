import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { describe, expect, it, vi } from "vitest";
import { isOld, makeOld } from "./use-changed";

describe("what a change makes old", () => {
  it("asks again for all that a pool's record bears on", () => {
    for (const at of ["/api/v1/pools", "/api/v1/pools/{id}/due", "/api/v1/lap", "/api/v1/week", "/api/v1/stops/{id}"]) {
      expect(isOld("pool", at)).toBe(true);
    }
    expect(isOld("pool", "/api/v1/service-lives")).toBe(false);
    expect(isOld("pool", "/api/v1/me")).toBe(false);
  });
  it("leaves the week alone for a note", () => {
    expect(isOld("beside", "/api/v1/pools/{id}/log")).toBe(true);
    expect(isOld("beside", "/api/v1/week")).toBe(false);
  });
  it("tells a room from one that begins alike", () => {
    expect(isOld("people", "/api/v1/people")).toBe(true);
    expect(isOld("catalogue", "/api/v1/pools")).toBe(false);
    expect(isOld("route", "/api/v1/lap")).toBe(true);
    expect(isOld("route", "/api/v1/laps/{id}/shorter")).toBe(true);
  });
  it("takes all of it for other units", () => {
    expect(isOld("everything", "/api/v1/me")).toBe(true);
  });
});

it("asks once more for a first answer that was on its way when something changed", async () => {
  const queries = new QueryClient();
  let visits = 0;
  const answers: ((n: number) => void)[] = [];
  const ask = vi.fn(() => new Promise<number>((is) => answers.push(is)));
  const seen = new QueryObserver(queries, { queryKey: ["get", "/api/v1/stops/1"], queryFn: ask });
  const stop = seen.subscribe(() => undefined);
  await vi.waitFor(() => expect(ask).toHaveBeenCalledTimes(1));
  const before = visits; // the server answered, and the answer is on its way
  visits += 1;
  const changed = makeOld(queries, "pool");
  answers[0](before);
  await vi.waitFor(() => expect(ask).toHaveBeenCalledTimes(2));
  answers[1](visits);
  await changed;
  expect(seen.getCurrentResult().data).toBe(1);
  stop();
});
