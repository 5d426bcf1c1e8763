/** The one place that turns numbers and times into text. */
const nf = (digits: number) =>
  new Intl.NumberFormat("en-US", { minimumFractionDigits: digits, maximumFractionDigits: digits });
const whole = nf(0);
const tenth = nf(1);
const hundredth = nf(2);
const withDigits = [whole, tenth, hundredth];

const digitsOf: Record<string, number> = { psi: 1, inHg: 1, gpm: 0, W: 0, rpm: 0, gal: 0, money: 2 };

export function figure(value: number, unit: string): string {
  const text = withDigits[digitsOf[unit] ?? 1].format(value);
  return (/^-[0.]+$/.test(text) ? text.slice(1) : text).replace("-", "−");
}

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

let zone = "UTC";
let offset = 0;

/** The company's time zone, and the server's clock against this device's. */
export function setClock(timeZone: string, serverNow: string, readAt: number): void {
  zone = timeZone;
  offset = Date.parse(serverNow) - readAt;
}

/** Now by the server's clock. */
export const now = () => new Date(Date.now() + offset);

export function clock(at: string | Date): string {
  return new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit", timeZone: zone }).format(new Date(at));
}

export function day(at: string | Date): string {
  return new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", month: "short", timeZone: zone })
    .format(new Date(at))
    .replace(",", "");
}

export function shortDay(at: string | Date): string {
  return new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", timeZone: zone }).format(new Date(at));
}

export function longDay(at: string | Date): string {
  return new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "long", year: "numeric", timeZone: zone }).format(
    new Date(at),
  );
}

/** A date without a time, which no time zone may move. */
export function date(day: string): string {
  return new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "long", year: "numeric", timeZone: "UTC" }).format(
    new Date(day),
  );
}

/** A planned day, which no time zone may move: "Tue 24 Nov". */
export function planDay(day: string): string {
  return new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", month: "short", timeZone: "UTC" })
    .format(new Date(day))
    .replace(",", "");
}

/** The company's own day, like 2026-11-24. */
export const today = () => new Intl.DateTimeFormat("en-CA", { timeZone: zone }).format(now());

export const daysBetween = (from: string | Date, to: Date) =>
  Math.round((to.getTime() - new Date(from).getTime()) / 86_400_000);
