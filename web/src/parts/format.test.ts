import { afterEach, expect, test } from "vitest";
import table from "../../../core/units/measures.json";
import {
  axisMarks,
  chance,
  decimalsOf,
  difference,
  figure,
  hourClock,
  hourMark,
  measured,
  setUnits,
  toShown,
  toTrade,
} from "./format";
import { figuresOf, readHour } from "./read-figure";

afterEach(() => setUnits("us"));

// NIST SP 811 (from memory); worked by hand.
test("a figure is told in both systems", () => {
  expect([measured(14.5, "psi"), measured(18500, "gal"), measured(80, "°F"), measured(-0.01, "psi")]).toEqual([
    "14.5 psi",
    "18,500 gal",
    "80 °F",
    "0.0 psi",
  ]);
  setUnits("metric");
  expect([measured(14.5, "psi"), measured(18500, "gal"), measured(80, "°F"), measured(2400, "rpm")]).toEqual([
    "1.00 bar",
    "70,030 L",
    "27 °C",
    "2,400 rpm",
  ]);
});

test("every unit goes to the reader's and back, and is read as it was told", () => {
  for (const system of ["us", "metric"] as const) {
    setUnits(system);
    for (const unit of Object.keys(table)) {
      for (const v of [0.37, 8, 31.25, 412]) {
        expect(toTrade(toShown(v, unit), unit)).toBeCloseTo(v, 9);
        const half = 0.5 * 10 ** -decimalsOf(unit) + 1e-9;
        const read = figuresOf(figure(v, unit)); // "1,401" may be two: it is asked, never guessed
        expect(Math.min(...read.map((r) => Math.abs(r - toShown(v, unit))))).toBeLessThanOrEqual(half);
      }
    }
  }
});

test("marks of an axis are round in the reader's units, and within it", () => {
  for (const system of ["us", "metric"] as const) {
    setUnits(system);
    for (const top of [7, 22, 60]) {
      const marks = axisMarks(top, "psi", 5);
      expect(marks.length).toBeGreaterThan(0);
      for (const m of marks) {
        expect(m.at).toBeLessThanOrEqual(top + 1e-6);
        expect(toShown(m.at, "psi")).toBeCloseTo(Number(m.label), 6);
      }
    }
  }
});

test("nothing is certain, and a difference that rounds away is not told", () => {
  expect([chance(1), chance(0.003), chance(0), chance(0.5)]).toEqual([">99", "<1", "0", "50"]);
  expect([difference(0.01, "psi"), difference(-2, "psi"), difference(2, "psi")]).toEqual(["", "−2.0", "+2.0"]);
});

test("hours are read as a clock shows them", () => {
  for (const units of ["us", "metric"] as const) {
    setUnits(units);
    for (let h = 0; h <= 24; h += 0.25) expect(readHour(hourClock(h))).toBeCloseTo(h, 6);
  }
  setUnits("us");
  expect([hourClock(16.5), hourClock(0), hourClock(12), hourMark(15), hourMark(24)]).toEqual([
    "4:30 PM",
    "12:00 AM",
    "12:00 PM",
    "3 PM",
    "12 AM",
  ]);
  expect(["4 pm", "4:30 p.m.", "12am", "16:30", "7"].map(readHour)).toEqual([16, 16.5, 0, 16.5, 7]);
  expect(Number.isNaN(readHour("13 PM"))).toBe(true);
  expect(Number.isNaN(readHour("noon"))).toBe(true);
  expect(Number.isNaN(readHour("7:75"))).toBe(true);
});

test("what could be two figures gives both", () => {
  expect(figuresOf("1,200")).toEqual([1200, 1.2]);
  expect(figuresOf("3,450", "rpm")).toEqual([3450]);
  expect(figuresOf("17 1/2")).toEqual([17.5]);
});
