import "fake-indexeddb/auto";
import { expect, it } from "vitest";
import { database } from "./database";
import { type Day, keepDay } from "./keep-day";

const me = "00000000-0000-7000-8000-000000000001";

/** About what a stop of the demo's day takes, in letters (the day's own size is printed by make bench). */
const letters = { bench: 14_000, work: 20_000, pool: 16_000, pack: 45_000, blank: 14_000, due: 5_000, before: 12_000 };
const stops = 12;
const pools = 60;

/** A day of a route: each weekday has its pools, each day its own stops. */
const dayOf = (n: number) =>
  ({
    zone: "x".repeat(1500),
    lang: "en",
    units: "us",
    stops: Array.from({ length: stops }, (_, i) => {
      const pool = `pool-${(n * stops + i) % pools}`;
      const of = (kind: keyof typeof letters) => ({ text: "x".repeat(letters[kind]) });
      const has = {
        bench: { ...of("bench"), pool: { id: pool } },
        work: of("work"),
        pool: of("pool"),
        about: {},
        due: of("due"),
        before: of("before"),
        inspections: [],
        blank: of("blank"),
        runs: [],
        pack: of("pack"),
        facts: {},
      };
      return { id: `stop-${n}-${i}`, mark: `mark-${n}-${i}`, has };
    }),
  }) as unknown as Day;

/** A month of days, or three hundred (VITE_LONG=1, make test-long). What is kept of each grows alike. */
const days = import.meta.env.VITE_LONG ? 300 : 30;

it("holds no more after three hundred days than a device gives lightly", async () => {
  const db = await database();
  const begun = Date.parse("2026-02-01T12:00:00Z");
  for (let n = 0; n < days; n++) {
    const at = begun + n * 86_400_000;
    await keepDay(db, me, dayOf(n), {}, at);
    for (let i = 0; i < stops; i++) {
      const value = { visit: "v", at: new Date(at).toISOString(), draft: { note: "x".repeat(900) } };
      await db.put("kept", { who: me, kind: "saved", id: `stop-${n}-${i}`, value });
    }
  }
  const size = (all: object[]) => all.reduce((sum, one) => sum + JSON.stringify(one).length, 0);
  // Answers go after a fortnight, so that only what was logged grows with the days.
  const held = size(await db.getAll("answers")) + (size(await db.getAll("kept")) * 300) / days;
  console.log(`after 300 days of ${stops} stops the device holds ${(held / 1e6).toFixed(1)} MB`);
  expect(held).toBeLessThan(60e6);
  expect(await db.get("answers", [me, `known stop-${days - 1}-0`])).toBeDefined();
  expect(await db.get("answers", [me, `known stop-${days - 20}-0`])).toBeUndefined();
}, 60_000);
