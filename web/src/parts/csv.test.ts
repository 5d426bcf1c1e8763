import { expect, test } from "vitest";
import { csvOf } from "./csv";

test("cells hold commas, quotes and lines, and no formula", () => {
  expect(
    csvOf([
      ["a", "b"],
      ['say "hi", twice', "two\nlines"],
      ["=1+1", -2],
      [null, undefined],
    ]),
  ).toBe('\uFEFFa,b\r\n"say ""hi"", twice","two\nlines"\r\n\'=1+1,-2\r\n,\r\n');
});
