import i18next from "i18next";
import table from "../../../core/units/measures.json";
import { zoneOf } from "./clock";

/** The one place that turns numbers, units and times into text. */
const formats = new Map<number, Intl.NumberFormat>();
const nf = (digits: number) => {
  let f = formats.get(digits);
  if (!f) {
    f = new Intl.NumberFormat("en-US", { minimumFractionDigits: digits, maximumFractionDigits: digits });
    formats.set(digits, f);
  }
  return f;
};
const whole = nf(0);

interface Measure {
  metric?: string;
  times?: number;
  plus?: number;
  decimals: number;
  metricDecimals?: number;
}

/** The trade's units and their metric ones: the server's own table. */
const measures: Record<string, Measure> = table;

let metric = false;

let currency = "";

/** The sign of the company's money. */
export function setCurrency(sign: string): void {
  currency = sign;
}

/** The reader's units; words that name one have it as {{psi}}, {{gpm}} and so on. */
export function setUnits(units: "us" | "metric"): void {
  metric = units === "metric";
  const names = ["psi", "inHg", "gpm", "gal", "kgal", "miles", "ft"];
  const named = Object.fromEntries(names.map((u) => [`${u}Unit`, unitOf(u)]));
  if (i18next.options.interpolation) i18next.options.interpolation.defaultVariables = named;
}

const inMetric = (unit: string) => (metric && measures[unit]?.metric ? measures[unit] : undefined);

/** A trade unit as it is called here. */
export const unitOf = (unit: string): string => inMetric(unit)?.metric ?? unit;

/** A trade figure in the units that people read here, and back. */
export function toShown(value: number, unit: string): number {
  const m = inMetric(unit);
  return m ? value * (m.times ?? 1) + (m.plus ?? 0) : value;
}
export function toTrade(shown: number, unit: string): number {
  const m = inMetric(unit);
  return m ? (shown - (m.plus ?? 0)) / (m.times ?? 1) : shown;
}

const roundSteps = [0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100];

/** Marks for an axis up to a top: round figures in the units shown. step is the trade unit's. */
export function axisMarks(top: number, unit: string, step: number): { at: number; label: string }[] {
  const m = inMetric(unit);
  const fit = roundSteps.filter((r) => toTrade(r, unit) <= top);
  const size = m
    ? toTrade(fit.find((r) => r >= 0.7 * step * (m.times ?? 1)) ?? fit.at(-1) ?? roundSteps[0], unit)
    : step;
  return Array.from({ length: Math.floor(top / size + 1e-9) }, (_, i) => {
    const at = size * (i + 1);
    return { at, label: String(Number(toShown(at, unit).toFixed(2))) };
  });
}

/** Decimals of a figure as it is shown here. */
export const decimalsOf = (unit: string): number => inMetric(unit)?.metricDecimals ?? measures[unit]?.decimals ?? 0;

export function figure(value: number, unit: string): string {
  const text = nf(decimalsOf(unit)).format(toShown(value, unit));
  return (/^-[0.]+$/.test(text) ? text.slice(1) : text).replace("-", "−");
}

/** A figure with its unit. */
export const measured = (value: number, unit: string): string => `${figure(value, unit)} ${unitOf(unit)}`;

/** Money of the company's. */
export const money = (value: number): string => `${currency}${figure(value, "money")}`;

/** A difference with its sign; nothing when it rounds to nought. */
export function difference(value: number, unit: string): string {
  const text = figure(Math.abs(value), unit);
  if (/^[0.]+$/.test(text)) return "";
  return (value < 0 ? "−" : "+") + text;
}

/** A chance in percent; never a bare 0 or 100, for nothing here is certain. */
export function chance(p: number): string {
  if (p >= 0.995) return ">99";
  if (p > 0 && p < 0.005) return "<1";
  return whole.format(100 * p);
}

export const percent = (share: number) => whole.format(100 * share);

/** Whether the month comes before the day for this reader. */
export const monthFirst = () => locale() === "en-US";

/** Days and months as readers write them: who reads US units writes the month first in English, and 12 hours. */
const locale = () => (i18next.language === "es" ? "es-MX" : metric ? "en-GB" : "en-US");
const writers = new Map<string, Intl.DateTimeFormat>();

/** A time as a language writes it; each way of writing is made once, which costs a phone most of it. */
function written(at: string | Date, locale: string, parts: Intl.DateTimeFormatOptions): string {
  const key = JSON.stringify([locale, parts]);
  let writer = writers.get(key);
  if (!writer) {
    writer = new Intl.DateTimeFormat(locale, parts);
    writers.set(key, writer);
  }
  return writer.format(new Date(at));
}

const dated = (at: string | Date, timeZone: string, parts: Intl.DateTimeFormatOptions) =>
  written(at, locale(), { ...parts, timeZone });
/** A short one: "Tue, Nov 24", and without the marks between where the day comes first. */
const brief = (at: string | Date, timeZone: string, parts: Intl.DateTimeFormatOptions) => {
  const text = dated(at, timeZone, parts);
  return monthFirst() ? text : text.replace(/,| de(?= )/g, "").replace("Sept", "Sep");
};

/** A time of the day: "2:05 PM" for who reads US units, "14:05" for who reads metric. */
export const clock = (at: string | Date): string => timeOfDay(at, zoneOf());

/** An hour of the day as a clock shows it: 16.5 is "4:30 PM" or "16:30", and 24 the end of the day. */
export const hourClock = (hour: number): string => (hour === 24 ? "24:00" : timeOfDay(onTheHour(hour), "UTC"));

/** A full hour in the shortest way: "4 PM" or "16:00". */
export const hourMark = (hour: number): string => hourClock(hour % 24).replace(/:00(?= )/, "");

const onTheHour = (hour: number) => new Date(Date.UTC(2026, 0, 1, 0, Math.round(hour * 60)));

function timeOfDay(at: string | Date, timeZone: string): string {
  const text = metric
    ? written(at, "en-GB", { hour: "2-digit", minute: "2-digit", timeZone })
    : written(at, i18next.language === "es" ? "es-US" : "en-US", { hour: "numeric", minute: "2-digit", timeZone });
  return text.replace(/[\u00a0\u202f]/g, " ").replace(/([ap])\. ?m\./, "$1.m."); // browsers differ by a space
}

/** A day of the week by its number, Sunday 0. */
export const weekdayName = (n: number) => dated(new Date(Date.UTC(2026, 10, 22 + n)), "UTC", { weekday: "long" });

/** The names of the seven days, Sunday first, as the record counts them. */
export const weekdays = (): string[] => Array.from({ length: 7 }, (_, n) => weekdayName(n));

/** A month by its number, January 1. */
export const monthName = (n: number) => dated(new Date(Date.UTC(2026, n - 1, 1)), "UTC", { month: "long" });

export function day(at: string | Date): string {
  return brief(at, zoneOf(), { weekday: "short", day: "numeric", month: "short" });
}

export function shortDay(at: string | Date): string {
  return brief(at, zoneOf(), { day: "numeric", month: "short" });
}

export function longDay(at: string | Date): string {
  return dated(at, zoneOf(), { day: "numeric", month: "long", year: "numeric" });
}

/** A date without a time, which no time zone may move. */
export function date(day: string): string {
  return dated(day, "UTC", { day: "numeric", month: "long", year: "numeric" });
}

/** A planned day, which no time zone may move. */
export function planDay(day: string): string {
  return brief(day, "UTC", { weekday: "short", day: "numeric", month: "short" });
}

export const daysBetween = (from: string | Date, to: Date) =>
  Math.round((to.getTime() - new Date(from).getTime()) / 86_400_000);
