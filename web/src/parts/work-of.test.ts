import { expect, test } from "vitest";
import type { PoolWork } from "../api/client";
import { workOf } from "./work-of";

const brief = (id: string, mends: string[], narrows: string[] = [], minutes = 10) =>
  ({ id, name: id, mends, narrows, minutes }) as unknown as PoolWork["procedures"][number];

const work = {
  procedures: [
    brief("impeller", ["impeller-clogged"], ["air-lid", "motor-hums"]),
    brief("baskets", ["basket-full", "skimmer-blocked"]),
    brief("leak-tests", ["air-lid"], ["air-upstream"], 20),
    brief("lid-ring", ["air-lid"], [], 8),
    brief("skimmer", ["skimmer-blocked"]),
  ],
} as unknown as PoolWork;

test("a fault opens its own quickest work, and what narrows it down comes beside it", () => {
  expect(workOf(work, "air-lid")).toMatchObject({ fixes: { id: "lid-ring" }, checks: { id: "impeller" } });
  expect(workOf(work, "skimmer-blocked").fixes?.id).toBe("skimmer");
  expect(workOf(work, "basket-full").fixes?.id).toBe("baskets");
});

test("what only narrows a fault down is no fix of it", () => {
  const { fixes, checks } = workOf(work, "motor-hums");
  expect(fixes).toBeUndefined();
  expect(checks?.id).toBe("impeller");
  expect(workOf(work, "no-power")).toEqual({ fixes: undefined, checks: undefined });
  expect(workOf(undefined, "air-lid").fixes).toBeUndefined();
});
