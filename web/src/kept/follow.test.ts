import { expect, test } from "vitest";
import type { RunEvent, RunView } from "../api/client";
import { follow, placeOf, stepOf } from "./follow";

const option = (id: string, to: string, ends = "") => ({ id, to, ends, says: id });
const step = (id: string, state: string, ...options: ReturnType<typeof option>[]) => ({
  id,
  says: `do ${id}`,
  state: { setting: state },
  left: { setting: "off" },
  options,
});
const run = {
  at: "off",
  turn: 3,
  timers: {},
  notes: [],
  done: [],
  ended: null,
  why: "",
  state: { setting: "filter" },
  script: {
    steps: [
      step("off", "filter", option("done", "wash")),
      step(
        "wash",
        "backwash",
        option("again", "wash"),
        option("clear", "after"),
        option("bad", "", "it never ran clear"),
      ),
      step("after", "filter", option("done", "")),
    ],
  },
} as unknown as RunView;
let clock = 0;
const event = (act: string, more: Partial<RunEvent> = {}) =>
  ({ id: String(clock++), act, at: `2026-11-24T10:00:${String(clock).padStart(2, "0")}Z`, ...more }) as RunEvent;
const go = (at: string, o: string) => event("go", { step: at, option: o });

test("what waits on the device is in the run, and the server's own stays as it was", () => {
  const before = JSON.stringify(run);
  const out = follow(run, [go("off", "done"), event("timer", { step: "wash" }), event("note", { note: "brown" })]);
  expect(out.at).toBe("wash");
  expect(out.turn).toBe(4);
  expect(out.state).toEqual({ setting: "backwash" });
  expect(out.timers.wash).toBeDefined();
  expect(out.notes).toEqual(["brown"]);
  expect(out.done.map((d) => d.step)).toEqual(["off"]);
  expect(JSON.stringify(run)).toBe(before);
});

test("an answer to a step that is past, or that the step does not have, changes nothing", () => {
  expect(follow(run, [go("wash", "clear")])).toEqual(run);
  expect(follow(run, [go("off", "maybe")])).toEqual(run);
});

test("a timer's first start counts, and a step done again keeps it", () => {
  const washing = follow(run, [go("off", "done"), event("timer", { step: "wash" })]);
  const started = washing.timers.wash;
  expect(follow(washing, [event("timer", { step: "wash" })]).timers.wash).toBe(started);
  expect(follow(washing, [go("wash", "again")]).timers.wash).toBe(started);
  expect(follow(washing, [go("wash", "clear")]).timers.wash).toBeUndefined();
});

test("a run ends as its answer says", () => {
  const sound = follow(run, [go("off", "done"), go("wash", "clear"), go("after", "done")]);
  expect(sound.ended).toBeTruthy();
  expect(sound.why).toBe("");
  expect(stepOf(sound)).toBeUndefined();
  const bad = follow(run, [go("off", "done"), go("wash", "bad")]);
  expect(bad.why).toBe("it never ran clear");
});

test("leaving puts the pad into the step's safe state", () => {
  const left = follow(run, [go("off", "done"), event("timer", { step: "wash" }), event("leave")]);
  expect(left.left).toBeTruthy();
  expect(left.state).toEqual({ setting: "off" });
  expect(left.timers).toEqual({});
});

test("steps are counted from one", () => {
  expect([placeOf(run, "off"), placeOf(run, "after"), placeOf(run, "none")]).toEqual([1, 3, 0]);
});
