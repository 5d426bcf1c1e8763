import { expect, test } from "vitest";
import { at, put } from "./paths-in-doc";

interface Doc {
  pump: { topRpm: number };
  suction: { lengthFt: number }[];
  heater?: { model: string };
}

const doc: Doc = { pump: { topRpm: 3450 }, suction: [{ lengthFt: 20 }, { lengthFt: 35 }] };

test("a field is read by its path, and nothing where there is none", () => {
  expect(at(doc, "suction[1].lengthFt")).toBe(35);
  expect(at(doc, "suction[7].lengthFt")).toBeUndefined();
  expect(at(doc, "heater.model")).toBeUndefined();
});

test("a change is in a copy that shares what did not change", () => {
  const out = put(doc, "suction[1].lengthFt", 40);
  expect(at(out, "suction[1].lengthFt")).toBe(40);
  expect(doc.suction[1].lengthFt).toBe(35);
  expect(out.pump).toBe(doc.pump);
  expect(out.suction[0]).toBe(doc.suction[0]);
  expect(Array.isArray(out.suction)).toBe(true);
  expect(at(put(doc, "heater.model", "Ember"), "heater.model")).toBe("Ember");
});
