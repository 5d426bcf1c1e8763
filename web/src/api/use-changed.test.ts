import { describe, expect, it } from "vitest";
import { isOld } from "./use-changed";

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
