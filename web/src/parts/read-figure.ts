import i18next from "i18next";
import rules from "../../../core/figure/rules.json";

// The reader of typed figures on the page: the same rules, from the same file, as the
// server's, and a test holds the two together.
const folds = new RegExp(Object.keys(rules.fold).join("|"), "g");
const like = Object.fromEntries(Object.entries(rules.patterns).map(([name, p]) => [name, new RegExp(p)])) as Record<
  keyof typeof rules.patterns,
  RegExp
>;

const plain = (text: string) => text.replace(folds, (sign) => rules.fold[sign as keyof typeof rules.fold]).trim();

/** The values that a text without its sign may stand for, the likelier first. */
function readings(s: string): number[] {
  if (like.digits.test(s)) return [Number(s)];
  const part = like.fraction.exec(s);
  if (part) return Number(part[3]) ? [Number(part[1] ?? 0) + Number(part[2]) / Number(part[3])] : [];
  if (like.spaced.test(s)) return [Number(s.replace(/[ ']/g, "").replace(",", "."))];
  if (like.both.test(s)) {
    const comma = s.lastIndexOf(",") > s.lastIndexOf(".");
    return [Number(comma ? s.replace(/[.]/g, "").replace(",", ".") : s.replace(/,/g, ""))];
  }
  if (like.grouped.test(s)) {
    const whole = Number(s.replace(/[.,]/g, ""));
    if (s.replace(/[^.,]/g, "").length > 1) return [whole];
    const parted = Number(s.replace(",", "."));
    return s.includes(".") ? [parted, whole] : [whole, parted];
  }
  return like.bare.test(s) ? [Number(s.replace(",", "."))] : [];
}

/** Whether a figure can be one of its unit: wide spans, by the same rules. */
export function believable(v: number, unit?: string): boolean {
  const span = unit ? rules.spans[unit as keyof typeof rules.spans] : undefined;
  return !span || (v >= span.low && v <= span.top && (v === 0 || Math.abs(v) >= span.least));
}

/** What a typed figure may be in its unit: none, one, or two that only the typist can tell apart. */
export function figuresOf(text: string, unit?: string): number[] {
  let s = plain(text);
  const sign = s.startsWith("-") ? -1 : 1;
  s = s.replace(/^[+-]/, "").trim();
  const could = readings(s)
    .filter(Number.isFinite)
    .map((v) => sign * v);
  const can = could.filter((v) => believable(v, unit));
  if (!can.length) return could.slice(0, 1); // out of bounds, as the server will say
  return can.length > 1 && can[0] !== can[1] && s.includes(",") ? can : [can[0]];
}

/** A figure typed the way it is read; NaN when it is none, or could be two. */
export function readFigure(text: string, unit?: string): number {
  const can = figuresOf(text, unit);
  return can.length === 1 ? can[0] : Number.NaN;
}

/** Why a typed figure is not taken; nothing when it is. */
export function figureSays(text: string, unit?: string): string {
  const can = figuresOf(text, unit);
  if (can.length === 1) return "";
  return can.length
    ? i18next.t("figure.which", { text, one: can[0], other: can[1] })
    : i18next.t("figure.none", { text });
}

/** An hour of the day typed like 16, 16.5, 16:30 or 4:30 PM; NaN for anything else. */
export function readHour(text: string): number {
  const clock = /^\s*(\d{1,2})(?::([0-5]\d))?\s*(?:([ap])\.?\s*m\.?)?\s*$/i.exec(text);
  if (!clock || !(clock[2] || clock[3])) return readFigure(text);
  const [hour, part] = [Number(clock[1]), Number(clock[2] ?? 0) / 60];
  if (!clock[3]) return hour + part;
  if (hour < 1 || hour > 12) return Number.NaN;
  return (hour % 12) + (/p/i.test(clock[3]) ? 12 : 0) + part;
}
