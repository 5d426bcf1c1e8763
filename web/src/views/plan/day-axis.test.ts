import { expect, test } from "vitest";
import { pieces, span, x } from "./day-axis";

test("a span over midnight is two pieces of the same hours", () => {
  expect(pieces(22, 5)).toEqual([
    [22, 24],
    [0, 3],
  ]);
  expect(span({ from: 8, to: 16 })).toEqual([[8, 16]]);
  expect(span({ from: 8, to: 8 })).toEqual([]);
  for (let from = 0; from < 24; from++) {
    for (let to = 0; to <= 24; to++) {
      const hours = span({ from, to }).reduce((sum, [a, b]) => sum + b - a, 0);
      expect(hours).toBe(from === to ? 0 : (to - from + 24) % 24 || 24);
    }
  }
  expect(x(24) - x(0)).toBeCloseTo(674);
});
