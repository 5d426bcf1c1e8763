import { describe, expect, it } from "vitest";
import type { Inspection } from "../api/client";
import { answersOf, shownOf } from "./inspection-answers";

const stands = {
  id: "i1",
  version: 3,
  answers: { supports: { yes: false, note: "a pipe hangs free" }, "straight-run": { value: 6 } },
} as unknown as Inspection;

describe("an item of an inspection", () => {
  it("shows what is on record, and over it what was typed here", () => {
    expect(shownOf(stands, {}, "supports")).toEqual({ value: "", yes: false, note: "a pipe hangs free" });
    expect(shownOf(stands, { supports: { yes: true } }, "supports")).toMatchObject({
      yes: true,
      note: "a pipe hangs free",
    });
    expect(shownOf(stands, { "straight-run": { value: "eight" } }, "straight-run").value).toBe("eight");
    expect(shownOf(stands, {}, "drain-year")).toEqual({ value: "", yes: null, note: "" });
  });

  it("that was answered can be left open again", () => {
    expect(shownOf(stands, { supports: { yes: null } }, "supports").yes).toBeNull();
    expect(answersOf(stands, { supports: { yes: null, note: "" } }).answers.supports).toEqual({
      value: undefined,
      yes: undefined,
      note: undefined,
    });
  });

  it("goes on record as a figure, and stays here as long as it is none", () => {
    const { answers, wrong } = answersOf(stands, {
      "straight-run": { value: "14.5" },
      "drain-year": { value: "twenty" },
    });
    expect(answers["straight-run"]?.value).toBe(14.5);
    expect(wrong).toEqual(["drain-year"]);
    expect(answers["drain-year"]).toBeUndefined();
    expect(answers.supports).toEqual(stands.answers.supports);
  });

  it("that is emptied has no figure any more", () => {
    expect(answersOf(stands, { "straight-run": { value: "" } }).answers["straight-run"]?.value).toBeUndefined();
  });
});
