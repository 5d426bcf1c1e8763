import i18next from "i18next";
import { afterEach, expect, test } from "vitest";
import dates from "../../../core/words/dates.json";
import { setClock } from "./clock";
import { clock, day, setUnits, shortDay } from "./format";

afterEach(() => setUnits("us"));

test("page and server write a day and a time alike, over a year", async () => {
  await i18next.init({ lng: "en", resources: { en: {}, es: {} } });
  setClock("UTC", "2028-01-01T00:00:00Z", Date.parse("2028-01-01T00:00:00Z"));
  for (const d of dates) {
    if (i18next.language !== d.lang) await i18next.changeLanguage(d.lang);
    setUnits(d.units as "us" | "metric");
    expect([day(d.at), shortDay(d.at), clock(d.at)]).toEqual([d.day, d.short, d.clock]);
  }
});
