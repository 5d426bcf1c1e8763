import { expect, test } from "vitest";
import { type Load, takes } from "./drag";

const stop = { visits: ["2026-11-24", "2026-12-01"] } as Load["stop"];
const load: Load = { stop, date: "2026-11-24", technicianId: "a" };
const work: Load = { ...load, due: {} as Load["due"] };

test("a stop goes to a day without a visit of its pool, or to another's hands", () => {
  expect(takes(load, { date: "2026-11-25", technicianId: "a" })).toBe(true);
  expect(takes(load, { date: "2026-12-01" })).toBe(false);
  expect(takes(load, { date: "2026-11-24", technicianId: "a" })).toBe(false);
  expect(takes(load, { date: "2026-11-24", technicianId: "b" })).toBe(true);
  expect(takes(load, { date: "2026-11-25", technicianId: "" })).toBe(false);
});

test("due work goes to another visit of its pool, and nowhere else", () => {
  expect(takes(work, { date: "2026-12-01" })).toBe(true);
  expect(takes(work, { date: "2026-11-25" })).toBe(false);
  expect(takes(work, { date: "2026-11-24" })).toBe(false);
});
